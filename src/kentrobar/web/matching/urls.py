from django.urls import path

from kentrobar.web.matching import views

app_name = "matching"
urlpatterns = [
    path("", views.set_list, name="list"),
    path("new", views.create, name="create"),
    path("<int:pk>/", views.set_page, name="set"),
    path("<int:pk>/add", views.add, name="add"),
    path("<int:pk>/all", views.change_all, name="change_all"),
    path("<int:pk>/preset", views.preset, name="preset"),
    path("<int:pk>/within", views.widen, name="widen"),
    path("<int:pk>/name", views.rename, name="rename"),
    path("<int:pk>/archive", views.archive, name="archive"),
    path("<int:pk>/leave-out/<int:frame_pk>", views.leave_out, name="leave_out"),
    path("<int:pk>/places/<int:frame_pk>", views.places, name="places"),
    path("<int:pk>/costs", views.costs, name="costs"),
    path("<int:pk>/target", views.aim_at, name="aim_at"),
    path("<int:pk>/sheet.pdf", views.sheet, name="sheet"),
    path("<int:pk>/set.json", views.file, name="file"),
    path("<int:pk>/set.csv", views.table, name="table"),
    path("<int:pk>/search", views.search, name="search"),
    path("<int:pk>/search/<int:search_pk>/lay", views.lay, name="lay"),
]
