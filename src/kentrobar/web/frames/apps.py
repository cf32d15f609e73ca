from django.apps import AppConfig


class FramesConfig(AppConfig):
    name = "kentrobar.web.frames"
    label = "frames"
