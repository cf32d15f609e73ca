from django.apps import AppConfig


class WelcomeConfig(AppConfig):
    name = "kentrobar.web.welcome"
    label = "welcome"

    def ready(self) -> None:
        from kentrobar.web.jobs.today.above import offer_first_form
        from kentrobar.web.welcome.forms import FirstForm

        offer_first_form(lambda user: FirstForm(None, user.units))
