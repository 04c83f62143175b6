"""What is printed: tables, network requests, and the card for the other side of a stream."""
