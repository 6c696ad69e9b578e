"""Help at hand: the guide beside the work, and finding anything by its name."""
