"""Ways out and ways back: remedies, rescue, what may go over, substitutes, faults, trials, parking.

Everything here asks the core's own judgement; nothing keeps a verdict of its own.
"""
