"""Equations of the drive: frozen records of SI floats or arrays in, arrays out."""
