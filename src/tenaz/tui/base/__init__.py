"""What every part of the workbench knows: commands, hands, dial, theme, the desk."""
