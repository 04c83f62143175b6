"""How packets go: the hops of a call, routing tables of devices, what translators do, addresses as the internet sees them."""
