from django.urls import path

from kentrobar.web.planning import views
from kentrobar.web.planning.hand import views as hand
from kentrobar.web.planning.paper import views as paper
from kentrobar.web.planning.showing import compare, gram
from kentrobar.web.planning.wish import possible
from kentrobar.web.planning.wish import views as wish

app_name = "planning"
urlpatterns = [
    path("", views.plan_list, name="list"),
    path("aim/<int:frame_pk>", wish.aim, name="aim"),
    path("aim/<int:frame_pk>/lay", wish.lay, name="lay"),
    path("aim/<int:frame_pk>/places", wish.remember_places, name="places"),
    path("possible/<int:frame_pk>", possible.possible, name="possible"),
    path("gram/<int:frame_pk>", gram.gram, name="gram"),
    path("gram/<int:frame_pk>/card.pdf", paper.gram_card, name="gram_card"),
    path("compare", compare.compare, name="compare"),
    path("new", views.create, name="create"),
    path("<int:pk>/", views.board, name="board"),
    path("<int:pk>/preview", hand.preview, name="preview"),
    path("<int:pk>/change", hand.change, name="change"),
    path("<int:pk>/parts", hand.parts, name="parts"),
    path("<int:pk>/copy", views.copy, name="copy"),
    path("<int:pk>/duplicate", views.duplicate, name="duplicate"),
    path("<int:pk>/order", views.order_of_work, name="order"),
    path("<int:pk>/cut", views.cut, name="cut"),
    path("<int:pk>/start", views.take_new_start, name="new_start"),
    path("<int:pk>/archive", views.archive, name="archive"),
    path("<int:pk>/move", views.move, name="move"),
    path("<int:pk>/sheet.pdf", paper.bench_sheet, name="sheet"),
    path("<int:pk>/plan.svg", paper.picture, name="picture"),
    path("<int:pk>/plan.json", paper.export, name="export"),
]
