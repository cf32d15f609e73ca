from django.apps import AppConfig


class MeasuringConfig(AppConfig):
    name = "kentrobar.web.measuring"
    label = "measuring"
