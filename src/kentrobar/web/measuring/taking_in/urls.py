from django.urls import path, register_converter

from kentrobar.core.body.sport import Sport
from kentrobar.web.measuring.taking_in import views


class SportConverter:
    regex = "|".join(sport.value for sport in Sport)

    def to_python(self, value: str) -> str:
        return value

    def to_url(self, value: str) -> str:
        return value


register_converter(SportConverter, "sport")

app_name = "taking_in"
urlpatterns = [
    path("new/<sport:sport>", views.create, name="create"),
    path("take-in/<sport:sport>", views.take_in, name="take_in"),
]
