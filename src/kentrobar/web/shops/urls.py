from django.urls import path

from kentrobar.web.shops import views

app_name = "shops"
urlpatterns = [path("", views.preferences, name="preferences"), path("shop", views.shop, name="shop")]
