"""The Feel room: how a control answers the hand."""
