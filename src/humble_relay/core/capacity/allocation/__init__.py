"""What to send, at which picture and bitrate, by which line, and whether once to a relay: the best that fits, exactly."""
