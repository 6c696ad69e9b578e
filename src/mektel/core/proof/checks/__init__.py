"""What is looked for in a kit, a file for each kind of fault."""
