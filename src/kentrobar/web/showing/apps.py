from django.apps import AppConfig


class ShowingConfig(AppConfig):
    name = "kentrobar.web.showing"
    label = "showing"
