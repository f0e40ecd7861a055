"""What is measured, each figure beside its own limit in the same run."""
