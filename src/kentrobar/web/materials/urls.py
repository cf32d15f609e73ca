from django.urls import path

from kentrobar.web.materials import views

app_name = "materials"
urlpatterns = [
    path("", views.shelf, name="shelf"),
    path("<int:pk>/weight", views.change, name="change"),
    path("fittings", views.fittings, name="fittings"),
    path("fittings/<int:pk>/weigh", views.weigh, name="weigh"),
]
