/** What the values of the plan's fields are called. Generated from the core. */
export const CABLES = [["hdmi", "HDMI"], ["hdmi-active", "Active HDMI"], ["hdmi-optical", "Optical HDMI"], ["coax", "SDI coax"], ["vga", "VGA"], ["ethernet", "Ethernet"], ["usb2", "USB 2"], ["usb3", "USB 3"], ["fibre", "Fibre"], ["audio", "Audio"]] as const;
export const PROTOCOLS = [["rtmp", "RTMP"], ["rtmps", "RTMPS"], ["srt", "SRT"], ["rtsp", "RTSP"], ["ndi", "NDI"], ["paired", "Paired"], ["web", "Browser"]] as const;
export const CODECS = [["h264", "H.264"], ["hevc", "HEVC"], ["intra", "intra-frame"]] as const;
export const LAYOUTS = [["full", "as it is"], ["crop", "middle cropped"], ["fit", "shrunk whole"]] as const;
export const CONNECTORS = [["hdmi", "HDMI"], ["sdi", "SDI"], ["usb", "USB"], ["vga", "VGA"], ["ethernet", "Ethernet"], ["wifi", "Wi-Fi"], ["mobile", "mobile"], ["audio", "audio"], ["fibre", "fibre"], ["radio", "radio"], ["network", "network"]] as const;
export const LINES = [["fibre", "fibre"], ["cable", "cable"], ["dsl", "DSL"], ["mobile", "mobile"], ["satellite", "satellite"], ["wifi", "somebody's Wi-Fi"]] as const;
export const LETS_OUT = [["everything", "everything"], ["web", "web pages only (TCP 80 and 443)"]] as const;
export const OBSTACLES = [["wall", "wall"], ["floor", "floor"], ["water", "water"], ["road", "road"], ["trees", "trees"], ["crowd", "crowd"], ["open-air", "open air"]] as const;
export const MATERIALS = [["brick", "brick"], ["concrete", "concrete"], ["plasterboard", "plasterboard"], ["wood", "wood"], ["glass", "glass"], ["metal", "metal or foil"], ["unknown", "not known"]] as const;
export const ADDRESSING = [["dhcp", "DHCP"], ["reserved", "DHCP, reserved"], ["fixed", "fixed in the device"]] as const;
export const CONTENTS = [["talk", "talk, little movement"], ["mixed", "mixed"], ["sport", "sport, fast movement"]] as const;
export const PICTURES = [["program", "program"], ["clean", "clean"], ["multi-view", "multi-view"], ["source", "one source"]] as const;
export const NEEDS = [["needed", "needed"], ["wished", "wished for"]] as const;
export const LIVENESS = [["watched", "only watched"], ["cut", "cut with others"], ["talked-back", "talked back to"]] as const;
export const SCANS = [["p", "progressive"], ["i", "interlaced"]] as const;
export const RATES = [["23.976", "23.976"], ["24", "24"], ["25", "25"], ["29.97", "29.97"], ["30", "30"], ["47.95", "47.95"], ["48", "48"], ["50", "50"], ["59.94", "59.94"], ["60", "60"], ["100", "100"], ["119.88", "119.88"], ["120", "120"]] as const;
export const RASTERS = [["1280x720", "1280 × 720"], ["1920x1080", "1920 × 1080"], ["3840x2160", "3840 × 2160"], ["4096x2160", "4096 × 2160"], ["7680x4320", "7680 × 4320"], ["720x576", "720 × 576"], ["720x480", "720 × 480"], ["1080x1920", "1080 × 1920 upright"], ["720x1280", "720 × 1280 upright"]] as const;
