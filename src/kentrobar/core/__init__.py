"""The rules of the job: mechanics of a frame and of the pieces laid on it. No interface code.

In reading order:

- ``errors``: the one exception tree; every message can be shown to the person who typed.
- ``units``: base units (g, cm, kg·cm²), conversions, and reading what a person types.
- ``estimates``: a value with its standard uncertainty, and "not measured" as a value of its own.
- ``moments``: the five additive numbers of a body, and every spec that derives from them.
- ``specs``: what was measured of a frame, turned into moments and back.
- ``outline``: the rim of a racket or paddle as a curve: clock positions, y, arc length, moments.
- ``pieces``: pieces of weight and their moments with uncertainty.
- ``plans``: pieces on a frame, hence before, after and change.
- ``strings``, ``builds``: what is fitted on a frame, and specs turned from build to build.
- ``readings``, ``calibration``: several readings of one spec; scale and zero of an instrument.
- ``timing``, ``recordings``, ``pendulum``: from passes or a signal to a period, and to inertia.
- ``slips``, ``crosscheck``: typed specs against what is known; readings before and after.
- ``comparing``: whether a gap is real and likely felt.
- ``materials``: kinds of material, how they behave, and what a weighed cut tells.
- ``sites``: the named places of a frame.
- ``placing``: moving a piece by hand: along the rim, along the handle, longer, heavier, mirrored, divided.
- ``blocked``, ``circumstances``, ``objections``: stretches where nothing can lie; what is known of a frame
  that bears on it; what speaks against a piece, and the ways out.
- ``gram``, ``goals``: what a gram does; wishes as bounds.
- ``candidates``, ``matching``, ``supply``, ``proposals``, ``reach``: what may be laid, the least of it
  that meets bounds, what there is and where it can lie, different plans for one aim, and what is
  possible at all.
- ``completing``, ``taking_away``: the one piece that completes a plan; what is fitted and can go.
- ``steps``, ``cutting``, ``appraisal``: the order of work with its readings and tools, what is cut from what,
  and what a plan costs in sight, time and money.
- ``checks``: what no frame can be, and what is outside its usual band.
- ``cautions``: what can hurt someone, by material and by what a plan does.
- ``silhouette``: the shapes that make up the drawing of a frame.
"""
