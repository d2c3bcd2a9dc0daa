"""The rules of the screen room.

Pure Python: no Django, no clock, no settings, no database. Limits, defaults and schools come in as
`frimble.core.settings.HouseSettings`; the time of day comes in as an argument.
"""
