"""The trial lifecycle, the climb over trials, and what to make of a trial that was cut short."""
