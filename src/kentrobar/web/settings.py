"""Settings, all from the environment; `docs/operations.md` lists the variables."""

from pathlib import Path

import environ
from csp.constants import NONE, SELF

from kentrobar.instruments.allowed import simulated_addresses

env = environ.Env()

WEB = Path(__file__).resolve().parent
ROOT = WEB.parents[2]

SECRET_KEY = env("SECRET_KEY")
DEBUG = env.bool("DEBUG", False)
DEMO = env.bool("DEMO", False)
SIMULATED_BENCH = env.int("SIMULATED_BENCH", 0)  # first port of the simulated bench, 0 without
# Devices that may be asked: addresses, or patterns such as /dev/ttyUSB* and socket://10.0.7.*:*
DEVICE_ADDRESSES = env.list("DEVICE_ADDRESSES", default=[])
if SIMULATED_BENCH:
    DEVICE_ADDRESSES += simulated_addresses(SIMULATED_BENCH)
ALLOWED_HOSTS = env.list("ALLOWED_HOSTS", default=["127.0.0.1", "localhost"])
CSRF_TRUSTED_ORIGINS = env.list("CSRF_TRUSTED_ORIGINS", default=[])
HTTPS = env.bool("HTTPS", False)  # behind a proxy that ends TLS and sets X-Forwarded-Proto

INSTALLED_APPS = [
    "kentrobar.web.shops",
    "kentrobar.web.frames",
    "kentrobar.web.materials",
    "kentrobar.web.measuring",
    "kentrobar.web.planning",
    "kentrobar.web.showing",
    "kentrobar.web.matching",
    "kentrobar.web.bench",
    "kentrobar.web.orders",
    "kentrobar.web.play",
    "kentrobar.web.practice",
    "kentrobar.web.history",
    "kentrobar.web.finding",
    "kentrobar.web.welcome",
    "kentrobar.web.kit",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.postgres",
    "django.contrib.staticfiles",
    "django.forms",
    "allauth",
    "allauth.account",
    "axes",
    "csp",
    "django_htmx",
    "procrastinate.contrib.django",
    "simple_history",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "kentrobar.web.kit.middleware.BoundedBody",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "csp.middleware.CSPMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
    "axes.middleware.AxesMiddleware",
    "kentrobar.web.kit.middleware.OrdinaryText",
    "kentrobar.web.shops.once.IdempotentForm",  # last: it calls the view
]

ROOT_URLCONF = "kentrobar.web.urls"
WSGI_APPLICATION = "kentrobar.web.wsgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [WEB / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "kentrobar.web.kit.context.house",
                "kentrobar.web.navigation.navigation",
            ],
            "libraries": {"navigation": "kentrobar.web.navigation"},
        },
    }
]
FORM_RENDERER = "django.forms.renderers.TemplatesSetting"

DATABASES = {"default": env.db("DATABASE_URL")}
DATABASES["default"].update(CONN_MAX_AGE=env.int("CONN_MAX_AGE", 600), CONN_HEALTH_CHECKS=True)
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
# Shared by all web processes, so that rate limits hold over all of them.
CACHES = {"default": {"BACKEND": "django.core.cache.backends.db.DatabaseCache", "LOCATION": "shared_cache"}}

# -- people ---------------------------------------------------------------------------

AUTH_USER_MODEL = "shops.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
    "allauth.account.auth_backends.AuthenticationBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("UserAttributeSimilarityValidator", "MinimumLengthValidator", "CommonPasswordValidator")
]
LOGIN_URL = "account_login"
LOGIN_REDIRECT_URL = "orders:today"
ACCOUNT_LOGIN_METHODS = {"username", "email"}
ACCOUNT_SIGNUP_FIELDS = ["username*", "email", "password1*", "password2*"]
ACCOUNT_EMAIL_VERIFICATION = "none"
ACCOUNT_SIGNUP_FORM_CLASS = "kentrobar.web.welcome.forms.ShopSignupForm"
ACCOUNT_FORMS = {"login": "kentrobar.web.shops.forms.SignInForm"}
ACCOUNT_LOGOUT_REDIRECT_URL = "account_login"
ACCOUNT_SESSION_REMEMBER = True
ACCOUNT_RATE_LIMITS = {"login_failed": False}  # axes counts these, over all processes
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_USERNAME_FORM_FIELD = "login"
AXES_USERNAME_CALLABLE = "kentrobar.web.shops.login_lockout.account_meant"
AXES_LOCKOUT_TEMPLATE = "account/locked_out.html"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
EMAIL_CONFIG = env.email("EMAIL_URL", default="consolemail://")
vars().update(EMAIL_CONFIG)

# -- safety -----------------------------------------------------------------------------

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "img-src": [SELF, "data:"],
        "media-src": [SELF, "blob:"],  # a video that is opened on the page itself
        "object-src": [NONE],
        "base-uri": [SELF],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
SECURE_REDIRECT_EXEMPT = ["^health$"]  # asked on loopback, without TLS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
DATA_UPLOAD_MAX_MEMORY_SIZE = 3_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 3_000_000

# -- pages ------------------------------------------------------------------------------

STATIC_URL = "static/"
STATICFILES_DIRS = [WEB / "static"]
STATIC_ROOT = env.path("STATIC_ROOT", default=str(ROOT / ".local" / "static"))
# Tests serve the files as they lie in the tree; in use they are compressed and carry their hash.
COLLECTED_STATIC = env.bool("COLLECTED_STATIC", True)
WHITENOISE_USE_FINDERS = not COLLECTED_STATIC
_static_storage = (
    "whitenoise.storage.CompressedManifestStaticFilesStorage"
    if COLLECTED_STATIC
    else "django.contrib.staticfiles.storage.StaticFilesStorage"
)
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": _static_storage},
}
LANGUAGE_CODE = "en"
USE_I18N = False
USE_TZ = True
TIME_ZONE = env("TIME_ZONE", default="UTC")

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
