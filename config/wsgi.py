"""The WSGI application; the engine is warm before the first request."""

import os

from django.core.wsgi import get_wsgi_application

from outline.path.kernel import load_all

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()
load_all()
