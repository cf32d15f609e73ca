from django.urls import path

from kentrobar.web.practice import views

app_name = "practice"
urlpatterns = [
    path("", views.home, name="home"),
    path("begin", views.begin, name="begin"),
    path("<int:pk>/", views.run, name="run"),
]
