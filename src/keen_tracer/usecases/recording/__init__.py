"""What people write down: log rows, corrections, answers, the fleet record."""
