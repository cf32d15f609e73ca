from django.urls import path

from kentrobar.web.finding import views

app_name = "finding"
urlpatterns = [
    path("search/", views.search, name="search"),
    path("files/", views.files, name="files"),
    path("tables/frames.json", views.frames_file, name="frames_file"),
    path("tables/<slug:name>.csv", views.table, name="table"),
    path("readings/", views.read_in, name="read_in"),
    path("readings/record", views.record, name="record"),
]
