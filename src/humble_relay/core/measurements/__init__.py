"""What measurements say of the hours of the show: weighed by how like it they are, with their uncertainty."""
