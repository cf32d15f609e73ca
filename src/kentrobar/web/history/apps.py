from django.apps import AppConfig


class HistoryConfig(AppConfig):
    name = "kentrobar.web.history"
    label = "history"

    def ready(self) -> None:
        from kentrobar.web.frames import hooks

        hooks.ACTIONS.offer("history/_frame_actions.html", order=3)
