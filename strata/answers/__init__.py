"""What the command line answers: requests as JSON in, answers as JSON out."""
