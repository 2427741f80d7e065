"""What a technician has set for Tenaz itself: one TOML file, each setting with what it does."""
