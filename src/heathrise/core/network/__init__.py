"""Networks, subnets, names on the air."""
