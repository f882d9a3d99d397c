"""Commands on photos, frames, panes and silhouettes."""

from . import framing, importing, panes, silhouettes

__all__ = ["framing", "importing", "panes", "silhouettes"]
