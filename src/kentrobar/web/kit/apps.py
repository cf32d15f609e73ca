from django.apps import AppConfig


class KitConfig(AppConfig):
    name = "kentrobar.web.kit"
    label = "kit"
