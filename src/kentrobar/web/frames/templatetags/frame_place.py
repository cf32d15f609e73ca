"""What stands over every page of a frame."""

from django import template

from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.place import FramePlace, frame_place_of

register = template.Library()


@register.simple_tag(takes_context=True)
def frame_place(context: template.Context, frame: Frame) -> FramePlace:
    """The head of a frame's pages: specs, drawing, the next step."""
    return frame_place_of(frame, context["request"].user)
