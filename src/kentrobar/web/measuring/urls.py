from django.urls import path

from kentrobar.web.measuring import compare_views, instrument_views, swing_views, views

app_name = "measuring"
urlpatterns = [
    path("compare", compare_views.compare, name="compare"),
    path("instruments/", instrument_views.instruments, name="instruments"),
    path("instruments/new/<str:kind>", instrument_views.new_instrument, name="new_instrument"),
    path("instruments/<int:pk>/", instrument_views.edit_instrument, name="edit_instrument"),
    path("instruments/<int:pk>/calibrate", instrument_views.calibrate, name="calibrate"),
    path("frames/<int:pk>/", views.measure, name="measure"),
    path("frames/<int:pk>/look", views.look, name="look"),
    path("frames/<int:pk>/swing/<str:method>", swing_views.swing, name="swing"),
    path("frames/<int:pk>/swing/<str:method>/look", swing_views.swing_look, name="swing_look"),
    path("instruments/<int:pk>/passes", swing_views.take_gate, name="take_gate"),
    path("instruments/<int:pk>/take", views.take, name="take"),
]
