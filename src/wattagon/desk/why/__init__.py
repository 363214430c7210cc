"""Why a number is what it is: pointed at on any bench, opened with its equation, back to the fields."""
