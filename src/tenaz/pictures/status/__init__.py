"""What is always in sight: rail, next step, evidence, log; and all of it on one sheet at a trial's end."""
