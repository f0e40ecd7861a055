"""Programs that Yalla hands people to and hears from, simulated: each with its own look, state and API."""
