"""What leaves on paper: drawings of storeys at a true scale, tables in the same type, a title on every sheet."""
