"""Reading a phone photo of a rinsed step test: found, straightened, measured, concluded."""
