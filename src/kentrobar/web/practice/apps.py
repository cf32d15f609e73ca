from django.apps import AppConfig


class PracticeConfig(AppConfig):
    name = "kentrobar.web.practice"
    label = "practice"
