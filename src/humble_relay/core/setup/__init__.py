"""Set-up: what has to be set on each device for this plan, what shows that it is right, and what of it was seen today."""
