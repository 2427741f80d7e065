"""What goes out on paper: leaves of headed blocks, set as PDF, as one page of HTML, or as text."""
