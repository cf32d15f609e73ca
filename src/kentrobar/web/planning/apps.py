from django.apps import AppConfig


class PlanningConfig(AppConfig):
    name = "kentrobar.web.planning"
    label = "planning"

    def ready(self) -> None:
        from kentrobar.web.frames import above
        from kentrobar.web.planning.on_frames import laid_on, plans_panel, require_plans_fit

        above.offer_actions("planning/_frame_actions.html", order=2)
        above.offer_panel("planning/_frame_plans.html", plans_panel, order=1)
        above.ask_before_change(require_plans_fit)
        above.tell_what_is_laid(laid_on)
