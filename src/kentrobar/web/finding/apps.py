from django.apps import AppConfig


class FindingConfig(AppConfig):
    name = "kentrobar.web.finding"
    label = "finding"
