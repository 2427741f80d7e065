"""Open doors of machines: values set without hands, through what a machine documents of itself."""
