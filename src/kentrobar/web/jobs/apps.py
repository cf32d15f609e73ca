from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "kentrobar.web.jobs"
    label = "jobs"

    def ready(self) -> None:
        from kentrobar.web.jobs.on_plans import bench_of_plan
        from kentrobar.web.planning import above

        above.tell_beside_plan(bench_of_plan)
