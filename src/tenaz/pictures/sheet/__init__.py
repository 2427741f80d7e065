"""The Sheet picture, and a knob's track."""
