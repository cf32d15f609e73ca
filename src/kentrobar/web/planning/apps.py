from django.apps import AppConfig


class PlanningConfig(AppConfig):
    name = "kentrobar.web.planning"
    label = "planning"

    def ready(self) -> None:
        from kentrobar.web.frames import hooks
        from kentrobar.web.kit.searches import offer_kind
        from kentrobar.web.planning.offered import applied_on, require_plans_fit
        from kentrobar.web.planning.targets.searching import PlanSearches, PlatformSearches

        offer_kind(PlanSearches())
        offer_kind(PlatformSearches())
        hooks.BEFORE_CHANGE.offer(require_plans_fit)
        hooks.APPLIED_SINCE.offer(applied_on)
