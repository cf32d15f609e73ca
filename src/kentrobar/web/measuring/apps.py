from django.apps import AppConfig


class MeasuringConfig(AppConfig):
    name = "kentrobar.web.measuring"
    label = "measuring"

    def ready(self) -> None:
        from kentrobar.web.frames import hooks
        from kentrobar.web.measuring.history import readings_panel
        from kentrobar.web.measuring.stiffness import stiffness_panel

        hooks.PANELS.offer(hooks.Panel("measure", "measuring/_frame_readings.html", readings_panel), order=1)
        hooks.PANELS.offer(hooks.Panel("measure", "measuring/_stiffness.html", stiffness_panel), order=2)
