from django.urls import path

from kentrobar.web.jobs import views

app_name = "jobs"
urlpatterns = [
    path("", views.bench, name="bench"),
    path("learnt", views.learnt, name="learnt"),
    path("learnt/<int:material_pk>/take-over", views.take_over, name="take_over"),
    path("learnt/<int:correction_pk>/take-back", views.take_back, name="take_back"),
    path("frames/<int:frame_pk>", views.frame, name="frame"),
    path("plans/<int:plan_pk>", views.plan, name="plan"),
    path("<int:pk>/", views.work, name="work"),
    path("<int:pk>/lay", views.lay, name="lay"),
    path("<int:pk>/trim", views.trim, name="trim"),
    path("<int:pk>/pieces/<int:number>", views.piece, name="piece"),
    path("<int:pk>/permanent", views.permanent, name="permanent"),
    path("<int:pk>/believe", views.believe, name="believe"),
    path("<int:pk>/end", views.end, name="end"),
]
