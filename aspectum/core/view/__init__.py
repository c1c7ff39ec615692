"""From sightings to a camera: evidence, starts, solving, strays, eye level."""
