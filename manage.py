"""Django's command line for the studio."""

import os
import sys

# pictures run on threads of their own; more inside each matrix product only get in their way
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
