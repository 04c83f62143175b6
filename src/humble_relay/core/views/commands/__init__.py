"""Lines that are typed, read: what each may mean, as alternatives to choose from."""
