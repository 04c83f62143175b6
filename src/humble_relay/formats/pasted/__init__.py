"""Text that is pasted as it came: a platform's page, what a computer says of its network, a list of devices out of a spreadsheet."""
