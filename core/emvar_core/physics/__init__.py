"""What liquids and films do: evaporation, hardening in changing air, the cup, viscosity, spray, Hansen distances.

Plain figures with their units in the names; nothing here gives a verdict.
"""
