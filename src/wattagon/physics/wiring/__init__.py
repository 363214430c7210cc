"""What carries the pack's current: copper, its warmth, contacts, fuses, capacitors, boxes, boards."""
