"""Commands on photos, frames, panes and silhouettes."""

from . import framing, importing, panes, replacing, silhouettes, standing_out

__all__ = ["framing", "importing", "panes", "replacing", "silhouettes", "standing_out"]
