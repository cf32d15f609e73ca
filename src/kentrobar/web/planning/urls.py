from django.urls import path

from kentrobar.web.planning import comparing, sensitivity, views
from kentrobar.web.planning.board import views as board
from kentrobar.web.planning.paper import views as paper
from kentrobar.web.planning.targets import possible
from kentrobar.web.planning.targets import views as targets

app_name = "planning"
urlpatterns = [
    path("", views.plan_list, name="list"),
    path("aim/<int:frame_pk>", targets.target, name="target"),
    path("aim/<int:frame_pk>/lay", targets.lay, name="lay"),
    path("aim/<int:frame_pk>/places", targets.remember_places, name="places"),
    path("possible/<int:frame_pk>", possible.possible, name="possible"),
    path("gram/<int:frame_pk>", sensitivity.sensitivity, name="sensitivity"),
    path("gram/<int:frame_pk>/card.pdf", paper.sensitivity_card, name="sensitivity_card"),
    path("compare", comparing.compare, name="compare"),
    path("frames/<int:frame_pk>/", views.of_frame, name="frame"),
    path("new", views.create, name="create"),
    path("<int:pk>/", views.board, name="board"),
    path("<int:pk>/preview", board.preview, name="preview"),
    path("<int:pk>/change", board.change, name="change"),
    path("<int:pk>/parts", board.parts, name="parts"),
    path("<int:pk>/copy", views.copy, name="copy"),
    path("<int:pk>/duplicate", views.duplicate, name="duplicate"),
    path("<int:pk>/order", views.order_of_work, name="order"),
    path("<int:pk>/cut", views.cut, name="cut"),
    path("<int:pk>/start", views.take_new_start, name="new_start"),
    path("<int:pk>/archive", views.archive, name="archive"),
    path("<int:pk>/move", views.move, name="move"),
    path("<int:pk>/sheet.pdf", paper.bench_sheet, name="sheet"),
    path("<int:pk>/rim-ruler.pdf", paper.rim_ruler, name="rim_ruler"),
    path("<int:pk>/picture", paper.picture, name="picture"),
    path("<int:pk>/plan.json", paper.export, name="export"),
]
