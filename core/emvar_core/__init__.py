"""Emvar's rules and computation: plain values in, plain values out. Reads nothing but its own data files."""
