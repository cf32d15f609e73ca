from django.apps import AppConfig


class HistoryConfig(AppConfig):
    name = "kentrobar.web.history"
    label = "history"

    def ready(self) -> None:
        from kentrobar.web.frames.above import offer_actions

        offer_actions("history/_frame_actions.html", order=3)
