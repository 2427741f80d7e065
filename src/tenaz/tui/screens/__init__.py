"""What lies over the workbench: prompts, questions, help."""
