"""Results in the forms that programs, pages and plots read; history, baseline and gate."""
