from django.urls import path

from kentrobar.web.welcome import views

app_name = "welcome"
urlpatterns = [
    path("import", views.import_file, name="import"),
    path("first", views.first_steps, name="first"),
    path("try-out", views.try_out, name="try_out"),
]
