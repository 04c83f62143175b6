"""An upload meter: a server that takes what is sent and says how much came, a client that measures against it, and lines to try
it on that are only simulated. Nothing of it leaves the machine unless an address is given."""
