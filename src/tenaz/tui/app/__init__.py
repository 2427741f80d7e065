"""The workbench as a program: started, fitted to its window, left, left running."""
