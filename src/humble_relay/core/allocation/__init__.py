"""What to send, at which picture and bitrate, by which uplink, and whether once to a relay: the best that fits, exactly."""
