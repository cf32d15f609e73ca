from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "kentrobar.web.jobs"
    label = "jobs"

    def ready(self) -> None:
        from kentrobar.web.frames.above import offer_actions
        from kentrobar.web.jobs.on_plans import bench_of_plan
        from kentrobar.web.planning import above

        above.tell_beside_plan(bench_of_plan)
        offer_actions("jobs/orders/_frame_actions.html", order=4)
