"""Things to print: swatch cards and the drawer's chart, as PDF by reportlab."""
