from django.apps import AppConfig


class ShopsConfig(AppConfig):
    name = "kentrobar.web.shops"
    label = "shops"
