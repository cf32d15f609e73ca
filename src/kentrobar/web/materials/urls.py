from django.urls import path

from kentrobar.web.materials import views

app_name = "materials"
urlpatterns = [
    path("", views.shelf, name="shelf"),
    path("<int:pk>/weight", views.change, name="change"),
]
