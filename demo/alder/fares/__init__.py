"""What a ride costs, and who pays it."""
