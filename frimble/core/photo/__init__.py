"""What every photo needs: opening its file, its light, smooth surfaces over it."""
