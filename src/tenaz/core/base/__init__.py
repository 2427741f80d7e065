"""What everything stands on: errors, limits, amounts, durations, outcomes, the loop. Knows no other drawer."""
