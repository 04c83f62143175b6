"""What the screens and the command line show of a case, worked out from answers and analyses."""
