"""The WSGI application."""

import os
import sys

# before numpy: pictures run on threads of their own
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

# a picture lets go of the interpreter at every step on its arrays, and waits so long for it behind each short answer
sys.setswitchinterval(0.0002)

from django.core.wsgi import get_wsgi_application  # noqa: E402

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
application = get_wsgi_application()

from studio.keep import served  # noqa: E402
from studio.starting import load  # noqa: E402

load()

# who restores a backup must know that somebody is at work on the data
served.hold()
