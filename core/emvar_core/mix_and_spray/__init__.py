"""At the bench: the card of a coat, what a build needs, small tools without a plan, simulated instruments."""
