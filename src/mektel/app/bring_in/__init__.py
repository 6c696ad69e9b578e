"""What opens over Build when something is brought in that holds more than one control."""
