"""The Ship room: targets, generated files, and the measured match."""
