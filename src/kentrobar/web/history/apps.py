from django.apps import AppConfig


class HistoryConfig(AppConfig):
    name = "kentrobar.web.history"
    label = "history"

    def ready(self) -> None:
        from kentrobar.web.frames import hooks
        from kentrobar.web.history.head import frame_head

        hooks.HEADS.offer(frame_head)
