from django.apps import AppConfig


class PlayConfig(AppConfig):
    name = "kentrobar.web.play"
    label = "play"

    def ready(self) -> None:
        from kentrobar.web.kit.searches import offer_kind
        from kentrobar.web.planning import hooks as planning
        from kentrobar.web.play.hits.searching import ZoneSearches
        from kentrobar.web.play.trials.searching import SetupSearches

        offer_kind(ZoneSearches())
        offer_kind(SetupSearches())
        planning.PANELS.offer("play/_board_panel.html")
        planning.COMPARISONS.offer("play/_compare_panel.html")
