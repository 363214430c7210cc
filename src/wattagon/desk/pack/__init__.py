"""The pack bench: cells and bricks as they are joined, beside the ladder of volts."""
