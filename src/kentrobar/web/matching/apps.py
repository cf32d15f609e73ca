from django.apps import AppConfig


class MatchingConfig(AppConfig):
    name = "kentrobar.web.matching"
    label = "matching"

    def ready(self) -> None:
        from kentrobar.web.frames.above import offer_panel
        from kentrobar.web.matching.on_plans import set_of_plan, sets_panel
        from kentrobar.web.planning import above

        above.tell_beside_plan(set_of_plan)
        offer_panel("matching/_frame_sets.html", sets_panel, order=2)
