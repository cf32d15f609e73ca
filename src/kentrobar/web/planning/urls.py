from django.urls import path

from kentrobar.web.planning import goal_views, gram_views, views

app_name = "planning"
urlpatterns = [
    path("", views.plan_list, name="list"),
    path("aim/<int:frame_pk>", goal_views.aim, name="aim"),
    path("gram/<int:frame_pk>", gram_views.gram, name="gram"),
    path("gram/<int:frame_pk>/card.pdf", gram_views.gram_card, name="gram_card"),
    path("new", views.create, name="create"),
    path("<int:pk>/", views.board, name="board"),
    path("<int:pk>/preview", views.preview, name="preview"),
    path("<int:pk>/change", views.change, name="change"),
    path("<int:pk>/parts", views.parts, name="parts"),
    path("<int:pk>/copy", views.copy, name="copy"),
    path("<int:pk>/duplicate", views.duplicate, name="duplicate"),
    path("<int:pk>/sheet.pdf", views.sheet, name="sheet"),
    path("<int:pk>/plan.json", views.export, name="export"),
]
