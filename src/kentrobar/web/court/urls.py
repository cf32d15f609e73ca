from django.urls import path

from kentrobar.web.court import views

app_name = "court"
urlpatterns = [
    path("frames/<int:pk>/", views.frame, name="frame"),
    path("plans/<int:pk>/", views.plan, name="plan"),
    path("plans/<int:pk>/follow", views.follow, name="follow"),
    path("compare", views.compare, name="compare"),
]
