from django.urls import path

from kentrobar.web.welcome import views

app_name = "welcome"
urlpatterns = [path("import", views.import_file, name="import")]
