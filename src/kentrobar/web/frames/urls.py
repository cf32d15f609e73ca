from django.urls import path

from kentrobar.web.frames import alternatives, fitting_views, people, views

app_name = "frames"
urlpatterns = [
    path("", views.frame_list, name="list"),
    path("people", people.people, name="people"),
    path("<int:pk>/", views.detail, name="detail"),
    path("<int:pk>/archive", views.archive, name="archive"),
    path("<int:pk>/edit", views.edit, name="edit"),
    path("<int:pk>/fittings", fitting_views.fittings, name="fittings"),
    path("<int:pk>/fittings/<int:fitting_pk>", fitting_views.edit_fitting, name="edit_fitting"),
    path("<int:pk>/fittings/<int:fitting_pk>/others", alternatives.compare, name="alternatives"),
    path("<int:pk>/fittings/<int:fitting_pk>/off", fitting_views.take_off, name="take_off"),
]
