from django.urls import path

from kentrobar.web.history import views

app_name = "history"
urlpatterns = [
    path("frames/<int:pk>/", views.time_line, name="time_line"),
    path("frames/<int:pk>/off/<int:work_pk>/<int:number>", views.take_off, name="take_off"),
]
