"""The WSGI application that gunicorn serves."""

import os
from importlib import import_module

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kentrobar.web.settings")
application = get_wsgi_application()
import_module("kentrobar.web.urls")  # all pages are loaded once, before the workers part
import_module("weasyprint")  # the first sheet would wait for it
