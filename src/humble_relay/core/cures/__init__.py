"""What may mend each finding, made and tried when it is opened."""
