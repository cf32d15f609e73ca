from django.urls import path

from kentrobar.web.play.advice import views as advice
from kentrobar.web.play.hits import views as hits
from kentrobar.web.play.impact import views as impact
from kentrobar.web.play.trials import playing
from kentrobar.web.play.trials import views as trials
from kentrobar.web.play.views import home

app_name = "play"
urlpatterns = [
    path("", home, name="home"),
    path("frames/<int:pk>/", impact.frame, name="frame"),
    path("plans/<int:pk>/", impact.plan, name="plan"),
    path("plans/<int:pk>/follow", impact.follow, name="follow"),
    path("compare", impact.compare, name="compare"),
    path("frames/<int:pk>/hits", hits.of_frame, name="frame_hits"),
    path("hits/<int:pk>/", hits.hits, name="hits"),
    path("hits/<int:pk>/mark", hits.mark, name="mark"),
    path("hits/<int:pk>/take-back", hits.take_back, name="take_back"),
    path("hits/<int:pk>/straighten", hits.straighten, name="straighten"),
    path("hits/<int:pk>/plans", hits.plans, name="zone_plans"),
    path("frames/<int:pk>/trials", trials.of_frame, name="frame_trials"),
    path("trials/<int:pk>/", trials.trial, name="trial"),
    path("trials/<int:pk>/answer", trials.answer, name="answer"),
    path("trials/<int:pk>/take-back", trials.take_back, name="ask_again"),
    path("trials/<int:pk>/renew", trials.renew, name="renew_address"),
    path("trials/<int:pk>/end", trials.end, name="end_trial"),
    path("trials/<int:pk>/setups/<int:number>/lay", trials.lay, name="lay_setup"),
    path("trials/<int:pk>/aim-set", trials.aim_set, name="aim_set"),
    path("advice", advice.of_shop, name="advice"),
    path("advice/new", advice.edit, name="new_rule"),
    path("advice/<slug:key>/edit", advice.edit, name="edit_rule"),
    path("advice/<slug:key>/hide", advice.hide, name="hide_rule"),
    path("advice/<slug:key>/drop", advice.drop, name="drop_rule"),
    path("frames/<int:pk>/advice", advice.of_frame, name="frame_advice"),
    path("play/<str:secret>", playing.play, name="play"),
]
