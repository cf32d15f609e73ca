from django.apps import AppConfig


class WelcomeConfig(AppConfig):
    name = "kentrobar.web.welcome"
    label = "welcome"
