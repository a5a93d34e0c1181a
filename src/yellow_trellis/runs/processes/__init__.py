"""Worker processes: given files, watched, replaced; or an executor of somebody else."""
