"""Addresses of the application, by stage of the work."""

from django.urls import include, path

from kentrobar.web.kit.views import health
from kentrobar.web.welcome.views import sign_up

urlpatterns = [
    path("health", health, name="health"),
    path("accounts/signup/", sign_up, name="account_signup"),
    path("accounts/", include("allauth.account.urls")),
    path("you/", include("kentrobar.web.shops.urls")),
    path("frames/", include("kentrobar.web.welcome.urls")),
    path("frames/", include("kentrobar.web.measuring.taking_in.urls")),
    path("frames/", include("kentrobar.web.frames.urls")),
    path("materials/", include("kentrobar.web.materials.urls")),
    path("measure/", include("kentrobar.web.measuring.urls")),
    path("plans/", include("kentrobar.web.planning.urls")),
    path("sets/", include("kentrobar.web.matching.urls")),
    path("play/", include("kentrobar.web.play.urls")),
    path("practice/", include("kentrobar.web.practice.urls")),
    path("history/", include("kentrobar.web.history.urls")),
    path("searches/", include("kentrobar.web.kit.urls")),
    path("bench/", include("kentrobar.web.bench.urls")),
    path("", include("kentrobar.web.finding.urls")),
    path("", include("kentrobar.web.orders.urls")),
]

handler404 = "kentrobar.web.kit.views.not_found"
handler500 = "kentrobar.web.kit.views.broken"
