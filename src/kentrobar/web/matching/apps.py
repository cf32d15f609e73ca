from django.apps import AppConfig


class MatchingConfig(AppConfig):
    name = "kentrobar.web.matching"
    label = "matching"

    def ready(self) -> None:
        from kentrobar.web.frames import hooks as frames
        from kentrobar.web.kit.searches import offer_kind
        from kentrobar.web.matching.offered import set_of_plan, sets_panel
        from kentrobar.web.matching.searching import SetSearches
        from kentrobar.web.planning import hooks as planning

        offer_kind(SetSearches())
        planning.NOTES.offer(set_of_plan)
        frames.PANELS.offer(frames.Panel("matching/_frame_sets.html", sets_panel))
