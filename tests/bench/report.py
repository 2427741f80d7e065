"""``make bench``: speeds, as ratios to limits measured in the same run."""

from tests.bench import march, screen, sheets, telemetry

if __name__ == "__main__":
    march.report()
    screen.report()
    sheets.report()
    telemetry.report()
