from django.urls import path

from kentrobar.web.planning import (
    compare_views,
    file_views,
    goal_views,
    gram_views,
    reach_views,
    views,
)

app_name = "planning"
urlpatterns = [
    path("", views.plan_list, name="list"),
    path("aim/<int:frame_pk>", goal_views.aim, name="aim"),
    path("aim/<int:frame_pk>/<slug:key>", goal_views.school, name="school"),
    path("aim/<int:frame_pk>/<slug:key>/lay", goal_views.lay, name="lay"),
    path("platform/<int:frame_pk>", goal_views.platform, name="platform"),
    path("possible/<int:frame_pk>", reach_views.possible, name="possible"),
    path("gram/<int:frame_pk>", gram_views.gram, name="gram"),
    path("gram/<int:frame_pk>/card.pdf", gram_views.gram_card, name="gram_card"),
    path("compare", compare_views.compare, name="compare"),
    path("new", views.create, name="create"),
    path("<int:pk>/", views.board, name="board"),
    path("<int:pk>/preview", views.preview, name="preview"),
    path("<int:pk>/change", views.change, name="change"),
    path("<int:pk>/parts", views.parts, name="parts"),
    path("<int:pk>/copy", views.copy, name="copy"),
    path("<int:pk>/duplicate", views.duplicate, name="duplicate"),
    path("<int:pk>/order", views.order_of_work, name="order"),
    path("<int:pk>/cut", views.cut, name="cut"),
    path("<int:pk>/archive", views.archive, name="archive"),
    path("<int:pk>/move", views.move, name="move"),
    path("<int:pk>/sheet.pdf", file_views.bench_sheet, name="sheet"),
    path("<int:pk>/plan.svg", file_views.picture, name="picture"),
    path("<int:pk>/plan.json", file_views.export, name="export"),
]
