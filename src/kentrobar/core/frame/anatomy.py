"""How frames are built: lengths and shares of a usual racket or paddle, all of them in one place.

Nobody measures these of each frame; they are the project's own figures, from frames on a bench.
"""

from __future__ import annotations

from typing import Final

# -- hoop and face ------------------------------------------------------------------------

HOOP_WALL_CM: Final = 1.1  # radial thickness of a usual hoop; the offsets of its faces follow
HOOP_FULLNESS: Final = 0.035  # c of a usual hoop, used where no head size is given
FULLNESS_RANGE: Final = (-0.06, 0.1)  # beyond 1/9 the rim would be hollow at 3:00
HEAD_ASPECT: Final = 1.31  # length : width of a usual head, where only its size is given
ABOVE_SHOULDER_CM: Final = 2.0  # a paddle's bottom corners, above where the face reaches its width
PADDLE_GUARD_CM: Final = 0.8  # how far an edge guard reaches over the face
CHANNEL_MM: Final = 9.0  # width of the channel under bumper and grommets
THICKEST_CM: Final = 4.5  # likewise its beam
ON_RIM_CM: Final = 0.8  # how near the rim a compact piece counts as lying on it
ON_AXIS_CM: Final = 0.05  # how near the long axis it counts as lying on it

# -- strings and what holds the frame while they are put in -------------------------------

MAINS_REACH: Final = 0.78  # outermost main, as part of the opening's half width
CROSSES_REACH: Final = 0.86  # outermost cross, as part of its half length
USUAL_MAINS: Final = 16  # where nobody counted them
USUAL_CROSSES: Final = 19
DAMPENER_CM: Final = 2.0  # above the bridge
HOLE_HALF_CM: Final = 0.6  # a knot beside its hole
POST_HALF_CM: Final = 1.2  # half the width of rim that a machine's post takes
OFFSET_POSTS_CM: Final = 3.5  # how far from 12 two offset retainers hold

# -- strips over the tip, as part of half the rim -------------------------------------------

BUMPER_PART: Final = 0.62  # bumper guard and grommet strip
GUARD_PART: Final = 0.42  # a bumper guard alone
GROMMETS_PART: Final = 0.9  # a grommet strip alone
HEAD_TAPE_PART: Final = 0.30
EDGE_TAPE_PART: Final = 0.98

# -- throat and shafts ------------------------------------------------------------------------

SHAFT_CLOCK_MIN: Final = 290.0  # the shafts of a racket run into the hoop at about 4:50 and 7:10
BRIDGE_CLOCK_MIN: Final = 300.0  # below it a racket's shafts run into the hoop
SHAFT_WIDTH_CM: Final = 1.5
SHAFT_AT_HANDLE_CM: Final = 0.7  # half the distance of the shafts where they leave the handle
SHAFT_SPREAD_POWER: Final = 1.35  # shafts leave the handle closely and spread toward the hoop

# -- handle -------------------------------------------------------------------------------

HANDLE_RADIUS_CM: Final = 1.6  # half the width of a middle grip size
CAVITY_RADIUS_CM: Final = 1.0
CAP_RADIUS_CM: Final = 1.3  # inside of a butt cap
CAP_DEPTH_CM: Final = 2.4  # what lies nearer to the butt lies inside the cap
CAP_LENGTH_CM: Final = 2.2  # of a butt cap
IN_CAP_CM: Final = 1.2  # where weight inside the cap lies
IN_CAVITY_CM: Final = 4.5  # where weight in the cavity usually lies
BEVELS_BELOW_TOP_CM: Final = 2.5  # strips on the flat bevels, below the top of the handle
GRIP_TOP_CM: Final = 7.0  # of the handle: there the hand hardly lies
FINISHING_TAPE_CM: Final = 1.5  # at the top of the handle
FACTORY_TAPE_CM: Final = (6.0, 1.0)  # from, to, below the top of the handle
GRIP_STARTS_CM: Final = 0.5
HANDLE_SHARE: Final = 0.4  # of the length: no handle is longer, where nobody measured it

EARLIER_BELOW_TIP_CM: Final = 1.0  # earlier weight, where nobody noted its place
