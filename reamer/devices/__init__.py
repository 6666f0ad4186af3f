"""Instruments: a line protocol over TCP, the link that listens to it, and simulated ones that ship with the program."""
