"""What is recorded beside what runs, corrected, and taken back."""
