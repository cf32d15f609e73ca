from django.apps import AppConfig


class PlanningConfig(AppConfig):
    name = "kentrobar.web.planning"
    label = "planning"

    def ready(self) -> None:
        from kentrobar.web.frames import hooks
        from kentrobar.web.planning.offered import applied_on, plans_panel, require_plans_fit

        hooks.ACTIONS.offer("planning/_frame_actions.html", order=2)
        hooks.PANELS.offer(hooks.Panel("planning/_frame_plans.html", plans_panel), order=1)
        hooks.BEFORE_CHANGE.offer(require_plans_fit)
        hooks.APPLIED_SINCE.offer(applied_on)
