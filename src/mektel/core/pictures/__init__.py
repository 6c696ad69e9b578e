"""Pictures of a control, one for each state, as a control that stretches and never jumps."""
