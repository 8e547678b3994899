"""The views of the stations, one file each, under the name of the room."""
