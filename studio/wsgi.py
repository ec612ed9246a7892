"""The WSGI application."""

import os

# before numpy: pictures run on threads of their own
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
application = get_wsgi_application()
