from django.apps import AppConfig


class MaterialsConfig(AppConfig):
    name = "kentrobar.web.materials"
    label = "materials"
