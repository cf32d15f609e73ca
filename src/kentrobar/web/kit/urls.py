from django.urls import path

from kentrobar.web.kit import views

app_name = "kit"
urlpatterns = [path("<int:pk>/", views.search, name="search"), path("stop", views.stop_searches, name="stop")]
