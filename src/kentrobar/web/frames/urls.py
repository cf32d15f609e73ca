from django.urls import path, register_converter

from kentrobar.core.outline import Sport
from kentrobar.web.frames import fitting_views, intake_views, views


class SportConverter:
    regex = "|".join(sport.value for sport in Sport)

    def to_python(self, value: str) -> str:
        return value

    def to_url(self, value: str) -> str:
        return value


register_converter(SportConverter, "sport")

app_name = "frames"
urlpatterns = [
    path("", views.frame_list, name="list"),
    path("new/<sport:sport>", views.create, name="create"),
    path("take-in/<sport:sport>", intake_views.take_in, name="take_in"),
    path("import", views.import_file, name="import"),
    path("<int:pk>/", views.detail, name="detail"),
    path("<int:pk>/edit", views.edit, name="edit"),
    path("<int:pk>/fittings", fitting_views.fittings, name="fittings"),
    path("<int:pk>/fittings/<int:fitting_pk>", fitting_views.edit_fitting, name="edit_fitting"),
    path("<int:pk>/fittings/<int:fitting_pk>/off", fitting_views.take_off, name="take_off"),
]
