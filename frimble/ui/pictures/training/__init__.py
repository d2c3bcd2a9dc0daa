"""Pictures of training."""
