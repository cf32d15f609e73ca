from django.urls import path

from kentrobar.web.bench import views

app_name = "bench"
urlpatterns = [
    path("plans/<int:plan_pk>", views.plan, name="plan"),
    path("frames/<int:frame_pk>/", views.of_frame, name="frame"),
    path("<int:pk>/", views.work, name="work"),
    path("<int:pk>/swing/<str:method>", views.swing, name="swing"),
    path("<int:pk>/swing/<str:method>/summary", views.swing_summary, name="swing_summary"),
    path("<int:pk>/file", views.file, name="work_file"),
    path("<int:pk>/since", views.since, name="since"),
    path("<int:pk>/lay", views.lay, name="lay"),
    path("<int:pk>/trim", views.trim, name="trim"),
    path("<int:pk>/pieces/<int:number>", views.piece, name="piece"),
    path("<int:pk>/permanent", views.permanent, name="permanent"),
    path("<int:pk>/believe", views.believe, name="believe"),
    path("<int:pk>/end", views.end, name="end"),
]
