from django.apps import AppConfig


class PlanningConfig(AppConfig):
    name = "kentrobar.web.planning"
    label = "planning"
