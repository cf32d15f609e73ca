from django.apps import AppConfig


class CourtConfig(AppConfig):
    name = "kentrobar.web.court"
    label = "court"

    def ready(self) -> None:
        from kentrobar.web.frames.above import offer_actions
        from kentrobar.web.planning import above

        offer_actions("court/_frame_actions.html", order=2)
        above.offer_panel("court/_board_panel.html")
        above.offer_comparison("court/_compare_panel.html")
