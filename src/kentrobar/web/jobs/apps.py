from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "kentrobar.web.jobs"
    label = "jobs"

    def ready(self) -> None:
        from kentrobar.web.frames.above import offer_panel
        from kentrobar.web.jobs.on_plans import bench_of_plan
        from kentrobar.web.planning import above

        above.tell_beside_plan(bench_of_plan)
        offer_panel("jobs/_frame_bench.html", lambda frame, _user: {"frame": frame}, order=0)
