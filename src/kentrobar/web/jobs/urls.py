from django.urls import path

from kentrobar.web.jobs.bench import views as bench
from kentrobar.web.jobs.followup import views as followup
from kentrobar.web.jobs.handover import views as handover
from kentrobar.web.jobs.learning import views as learning
from kentrobar.web.jobs.orders import views as orders
from kentrobar.web.jobs.today import views as today

app_name = "jobs"
urlpatterns = [
    path("", today.today, name="today"),
    path("calendar", today.calendar_address, name="calendar_address"),
    path("calendar/<str:secret>.ics", today.calendar, name="calendar"),
    path("jobs/", orders.job_list, name="list"),
    path("jobs/new", orders.new, name="new"),
    path("jobs/<int:pk>/", orders.job, name="job"),
    path("jobs/<int:pk>/edit", orders.edit, name="edit"),
    path("jobs/<int:pk>/put", today.put, name="put"),
    path("jobs/<int:pk>/told", orders.told, name="told"),
    path("jobs/<int:pk>/hand-over", orders.hand_over, name="hand_over"),
    path("jobs/<int:pk>/call-off", orders.call_off, name="call_off"),
    path("jobs/<int:pk>/go-on", orders.go_on, name="go_on"),
    path("jobs/<int:pk>/photos", orders.add_photo, name="add_photo"),
    path("jobs/<int:pk>/photos/<int:photo_pk>", orders.photo, name="photo"),
    path("jobs/<int:pk>/frames", orders.add_frame, name="add_frame"),
    path("jobs/<int:pk>/frames/<int:row_pk>/drop", orders.drop_frame, name="drop_frame"),
    path("jobs/<int:pk>/frames/<int:row_pk>/plan", orders.mean_plan, name="mean_plan"),
    path("jobs/<int:pk>/frames/<int:row_pk>/verify", handover.verify, name="verify"),
    path("jobs/<int:pk>/frames/<int:row_pk>/card.pdf", handover.card, name="card"),
    path("jobs/<int:pk>/frames/<int:row_pk>/file", handover.file, name="file"),
    path("jobs/<int:pk>/follow-up", followup.follow_up, name="follow_up"),
    path("jobs/<int:pk>/follow-up/no-more", followup.ask_no_more, name="ask_no_more"),
    path("jobs/felt", followup.felt, name="felt"),
    path("jobs/<int:pk>/labels.pdf", handover.labels, name="labels"),
    path("label/<str:token>", handover.label_page, name="label_page"),
    path("bench/learnt", learning.learnt, name="learnt"),
    path("bench/learnt/<int:material_pk>/take-over", learning.take_over, name="take_over"),
    path("bench/learnt/<int:correction_pk>/take-back", learning.take_back, name="take_back"),
    path(
        "bench/learnt/instruments/<int:instrument_pk>/correct",
        learning.correct_instrument,
        name="correct_instrument",
    ),
    path(
        "bench/learnt/instruments/<int:instrument_pk>/as-before",
        learning.instrument_as_before,
        name="instrument_as_before",
    ),
    path("bench/learnt/places/<slug:site>/expect", learning.expect_off, name="expect_off"),
    path(
        "bench/learnt/places/<int:correction_pk>/as-meant",
        learning.expect_as_meant,
        name="expect_as_meant",
    ),
    path("bench/frames/<int:frame_pk>/renew-label", handover.renew_label, name="renew_label"),
    path("bench/plans/<int:plan_pk>", bench.plan, name="plan"),
    path("bench/<int:pk>/", bench.work, name="work"),
    path("bench/<int:pk>/swing/<str:method>", bench.swing, name="swing"),
    path("bench/<int:pk>/swing/<str:method>/summary", bench.swing_summary, name="swing_summary"),
    path("bench/<int:pk>/file", bench.file, name="work_file"),
    path("bench/<int:pk>/since", bench.since, name="since"),
    path("bench/<int:pk>/lay", bench.lay, name="lay"),
    path("bench/<int:pk>/trim", bench.trim, name="trim"),
    path("bench/<int:pk>/pieces/<int:number>", bench.piece, name="piece"),
    path("bench/<int:pk>/permanent", bench.permanent, name="permanent"),
    path("bench/<int:pk>/believe", bench.believe, name="believe"),
    path("bench/<int:pk>/end", bench.end, name="end"),
]
