from django.urls import path

from kentrobar.web.orders.followup import views as followup
from kentrobar.web.orders.handover import views as handover
from kentrobar.web.orders.insights import views as insights
from kentrobar.web.orders.jobs import views as jobs
from kentrobar.web.orders.today import views as today

app_name = "orders"
urlpatterns = [
    path("", today.today, name="today"),
    path("calendar", today.calendar_address, name="calendar_address"),
    path("calendar/<str:secret>.ics", today.calendar, name="calendar"),
    path("jobs/", jobs.job_list, name="list"),
    path("jobs/new", jobs.new, name="new"),
    path("jobs/<int:pk>/", jobs.job, name="job"),
    path("jobs/<int:pk>/edit", jobs.edit, name="edit"),
    path("jobs/<int:pk>/put", today.put, name="put"),
    path("jobs/<int:pk>/match", jobs.match, name="match"),
    path("jobs/<int:pk>/notified", jobs.notified, name="notified"),
    path("jobs/<int:pk>/hand-over", jobs.hand_over, name="hand_over"),
    path("jobs/<int:pk>/call-off", jobs.call_off, name="call_off"),
    path("jobs/<int:pk>/go-on", jobs.go_on, name="go_on"),
    path("jobs/<int:pk>/photos", jobs.add_photo, name="add_photo"),
    path("jobs/<int:pk>/photos/<int:photo_pk>", jobs.photo, name="photo"),
    path("jobs/<int:pk>/frames", jobs.add_frame, name="add_frame"),
    path("jobs/<int:pk>/frames/<int:row_pk>/drop", jobs.drop_frame, name="drop_frame"),
    path("jobs/<int:pk>/frames/<int:row_pk>/plan", jobs.mean_plan, name="mean_plan"),
    path("jobs/<int:pk>/frames/<int:row_pk>/verify", handover.verify, name="verify"),
    path("jobs/<int:pk>/frames/<int:row_pk>/card.pdf", handover.card, name="card"),
    path("jobs/<int:pk>/frames/<int:row_pk>/file", handover.file, name="file"),
    path("jobs/<int:pk>/follow-up", followup.follow_up, name="follow_up"),
    path("jobs/<int:pk>/follow-up/no-more", followup.ask_no_more, name="ask_no_more"),
    path("jobs/felt", followup.felt, name="felt"),
    path("jobs/<int:pk>/labels.pdf", handover.labels, name="labels"),
    path("label/<str:token>", handover.label_page, name="label_page"),
    path("bench/learnt", insights.insights, name="insights"),
    path("bench/learnt/<int:material_pk>/take-over", insights.take_over, name="take_over"),
    path("bench/learnt/<int:correction_pk>/take-back", insights.take_back, name="take_back"),
    path(
        "bench/learnt/instruments/<int:instrument_pk>/correct",
        insights.correct_instrument,
        name="correct_instrument",
    ),
    path(
        "bench/learnt/instruments/<int:instrument_pk>/as-before",
        insights.instrument_as_before,
        name="instrument_as_before",
    ),
    path("bench/learnt/places/<slug:site>/expect", insights.expect_off, name="expect_off"),
    path(
        "bench/learnt/places/<int:correction_pk>/as-meant", insights.expect_as_meant, name="expect_as_meant"
    ),
    path("bench/frames/<int:frame_pk>/renew-label", handover.renew_label, name="renew_label"),
]
