"""What was measured and seen on site, held against what was planned: runs, ports, access points, walks, the air, faults."""
