from django.apps import AppConfig


class MatchingConfig(AppConfig):
    name = "kentrobar.web.matching"
    label = "matching"

    def ready(self) -> None:
        from kentrobar.web.matching.on_plans import set_of_plan
        from kentrobar.web.planning import above

        above.tell_beside_plan(set_of_plan)
