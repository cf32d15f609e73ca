from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "kentrobar.web.bench"
    label = "bench"

    def ready(self) -> None:
        from kentrobar.web.bench.offered import bench_of_plan
        from kentrobar.web.planning import hooks

        hooks.NOTES.offer(bench_of_plan)
