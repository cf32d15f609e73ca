from django.urls import path

from kentrobar.web.measuring import stiffness
from kentrobar.web.measuring.comparing import views as comparing
from kentrobar.web.measuring.grid import views as grid
from kentrobar.web.measuring.instruments import jig
from kentrobar.web.measuring.instruments import views as instruments
from kentrobar.web.measuring.timing import views as timing

app_name = "measuring"
urlpatterns = [
    path("compare", comparing.compare, name="compare"),
    path("instruments/", instruments.instruments, name="instruments"),
    path("instruments/board-plan", jig.build_board, name="build_board"),
    path("instruments/new/<str:kind>", instruments.new_instrument, name="new_instrument"),
    path("instruments/<int:pk>/", instruments.edit_instrument, name="edit_instrument"),
    path("instruments/<int:pk>/calibrate", instruments.calibrate, name="calibrate"),
    path("instruments/<int:pk>/passes", timing.take_gate, name="take_gate"),
    path("instruments/<int:pk>/take", grid.take, name="take"),
    path("frames/<int:pk>/", grid.measure, name="measure"),
    path("frames/<int:pk>/readings", grid.readings, name="readings"),
    path("frames/<int:pk>/stiffness", stiffness.add, name="stiffness"),
    path("sheets/<int:pk>/aside", grid.set_aside, name="set_aside"),
    path("sheets/<int:pk>/count", grid.count_again, name="count_again"),
    path("frames/<int:pk>/summary", grid.summary, name="summary"),
    path("frames/<int:pk>/swing/<str:method>", timing.swing, name="swing"),
    path("frames/<int:pk>/swing/<str:method>/summary", timing.swing_summary, name="swing_summary"),
]
