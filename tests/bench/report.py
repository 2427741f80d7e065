"""``make bench``: speeds, as ratios to limits measured in the same run."""

from tests.bench import flips, kernels, manners, screen, sheets, telemetry

if __name__ == "__main__":
    kernels.report()
    manners.report()
    flips.report()
    screen.report()
    sheets.report()
    telemetry.report()
