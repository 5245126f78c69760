"""One mechanism a file; `registry.py` finds and checks them."""
