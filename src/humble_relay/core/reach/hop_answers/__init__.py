"""What is answered at each hop of a call: by networks, routers, lines and devices, by routes and by forwards."""
