from django.apps import AppConfig


class WelcomeConfig(AppConfig):
    name = "kentrobar.web.welcome"
    label = "welcome"

    def ready(self) -> None:
        from kentrobar.web.orders.today import hooks
        from kentrobar.web.welcome.forms import FirstForm

        hooks.FIRST_FORM.offer(lambda user: FirstForm(None, user))
