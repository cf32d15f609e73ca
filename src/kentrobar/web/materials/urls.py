from django.urls import path

from kentrobar.web.materials import views

app_name = "materials"
urlpatterns = [
    path("", views.shelf, name="shelf"),
    path("new", views.add, name="add"),
    path("<int:pk>/", views.material, name="material"),
    path("<int:pk>/cuts", views.weigh_cuts, name="weigh_cuts"),
    path("<int:pk>/stock", views.change_stock, name="change_stock"),
    path("<int:pk>/archive", views.archive, name="archive"),
    path("fittings/<int:pk>/archive", views.archive_fitting, name="archive_fitting"),
    path("fittings", views.fittings, name="fittings"),
    path("fittings/<int:pk>/weigh", views.weigh, name="weigh"),
]
