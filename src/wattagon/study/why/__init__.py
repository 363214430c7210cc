"""Why a number is what it is: the equation that worked it out, taken down while the code ran, back to the fields it rests on."""
