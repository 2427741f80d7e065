"""What trials show: brackets, hours by kind of load, edges of before, what is still owed."""
