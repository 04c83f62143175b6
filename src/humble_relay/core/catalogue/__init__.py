"""What there is to work with: gear models, kinds of cable and their lengths, and the stock."""
