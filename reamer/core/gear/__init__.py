"""What a thing has been through, and whether it is still to be used."""
