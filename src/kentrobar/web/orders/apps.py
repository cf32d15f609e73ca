from django.apps import AppConfig


class OrdersConfig(AppConfig):
    name = "kentrobar.web.orders"
    label = "orders"

    def ready(self) -> None:
        from kentrobar.web.bench import hooks as bench
        from kentrobar.web.measuring import hooks as measuring
        from kentrobar.web.orders.offered import job_of_work, to_job

        bench.JOBS.offer(job_of_work)
        measuring.CHECKED_IN.offer(to_job)
