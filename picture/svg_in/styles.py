"""Style sheets and declarations of an SVG, per element (CSS Syntax 3, Selectors 4, CSS Cascade 5)."""

import re
from collections import Counter
from typing import Final, NamedTuple
from xml.etree.ElementTree import Element

import cssselect2
import tinycss2
from cssselect2 import parser
from tinycss2.ast import Declaration, Node

from sheet.caching import cached
from sheet.reading.colours import read_css

from .css import INHERITED, length, name_of

__all__ = ["Styles"]


class _Body(NamedTuple):
    """The declarations of one place, and its important ones."""

    usual: dict[str, str]
    important: dict[str, str]


_PLAIN: Final = re.compile(r"""(?:[^"'\\/{}!@()]|\([^"'\\/{}!@();]*+\))*+""")
_NOT_STYLE: Final = {"id", "class", "style", "href", "points"}
"""Attributes that no style sheet sets."""
_DATA: Final = re.compile(r"""url\(\s*(?:'data:[^'\\]*+'|"data:[^"\\]*+"|data:[^'"()\\\s]*+)\s*\)""")
"""Data embedded in a style sheet, mostly fonts: megabytes that nobody needs."""
_MOST: Final = 4
"""The most elements in a selector: the cost of matching is the depth to that power."""
_SIMPLE: Final = (
    parser.LocalNameSelector, parser.NamespaceSelector, parser.IDSelector, parser.ClassSelector,
    parser.AttributeSelector, parser.PseudoClassSelector,
)  # fmt: skip


@cached(entries=4096)
def _declared(text: str) -> _Body:
    """Return the declarations of a `style` attribute."""
    if _PLAIN.fullmatch(text) is None:
        return _body(tinycss2.parse_blocks_contents(text, skip_comments=True, skip_whitespace=True))
    # most are simple, and can be read in a hundredth of the time
    pairs = (part.split(":", 1) for part in text.split(";") if ":" in part)
    named = ((name.strip(), value.strip()) for name, value in pairs)
    declarations = ((name if name.startswith("--") else name.lower(), value) for name, value in named)
    return _Body({name: value for name, value in declarations if name not in _NOT_STYLE}, {})


def _body(nodes: list[Node]) -> _Body:
    body = _Body({}, {})
    for node in nodes:
        if isinstance(node, Declaration):
            try:
                value = tinycss2.serialize(node.value).strip()
            except RecursionError:
                continue
            if node.lower_name not in _NOT_STYLE:
                name = node.name if node.name.startswith("--") else node.lower_name
                (body.important if node.important else body.usual)[name] = value
    return body


def _is_followed(selector: parser.Selector) -> bool:
    """Return whether a selector has few elements, each by type, class or place (Selectors 4, 6 and 15)."""
    node = selector.parsed_tree
    for _ in range(_MOST):
        last = node.right if isinstance(node, parser.CombinedSelector) else node
        if not all(isinstance(s, _SIMPLE) for s in last.simple_selectors):
            return False
        if last is node:
            return True
        node = node.left
    return False


MOST_VARIABLES: Final = 100
MOST_LETTERS: Final = 10_000
_VARIABLE: Final = re.compile(r"var\(\s*(--[\w-]+)\s*(?:,((?:[^()]|\([^()]*\))*))?\)")
"""A `var()` without another one inside: the innermost is replaced first."""
_FONT: Final = re.compile(
    r"(?:(?:bold|bolder|lighter|italic|normal|\d{3})\s+)*([\d.]+(?:px|pt|mm|em|%|in|cm)?)(?:/\S+)?\s+(.+)"
)
"""CSS Fonts 4, 2.7: the weight is ignored, because each shipped font has one."""


class Styles:
    """The rules of a file's style sheets, and the declarations for each element."""

    def __init__(self, root: Element):
        self.unread = 0
        """Rules that cannot be read, or apply to some screens only; they are ignored."""
        self.misread: Counter[str] = Counter()
        """Values that are invalid in CSS."""
        self._root = root
        self._parents: dict[Element, Element] = {}
        self._around: dict[Element, dict[str, str]] = {}
        self._matcher = cssselect2.Matcher()
        self._wrapped: dict[Element, cssselect2.ElementWrapper] = {}
        for element in root.iter():
            if name_of(element) == "style" and element.get("type", "text/css").strip().lower() in ("", "text/css"):
                self._read("".join(element.itertext()), element.get("media", "").strip().lower())
        if self._matcher.order:
            wrapped = cssselect2.ElementWrapper.from_xml_root(root)
            self._wrapped = {w.etree_element: w for w in wrapped.iter_subtree()}

    def _read(self, css: str, media: str) -> None:
        for rule in tinycss2.parse_stylesheet(_DATA.sub("none", css), skip_comments=True, skip_whitespace=True):
            if rule.type == "at-rule":
                self.unread += rule.lower_at_keyword not in ("font-face", "charset")
            elif rule.type != "qualified-rule" or media not in ("", "all", "screen"):
                self.unread += 1
            else:
                self._add_rule(rule)

    def _add_rule(self, rule: Node) -> None:
        try:
            if not all(_is_followed(s) for s in parser.parse(rule.prelude)):
                raise cssselect2.SelectorError
            selectors = cssselect2.compile_selector_list(rule.prelude)
        except (cssselect2.SelectorError, NotImplementedError, RecursionError):
            self.unread += 1
            return
        body = _body(tinycss2.parse_blocks_contents(rule.content, skip_comments=True, skip_whitespace=True))
        for selector in selectors:
            # pseudo-elements are not elements of a drawing
            if selector.pseudo_element is None:
                self._matcher.add_selector(selector, body)

    def own(self, element: Element) -> dict[str, str]:
        """Return the declarations for an element: attributes, then rules, then its own style, then the important ones
        of the rules and of its style (CSS Cascade 5, 6.1)."""
        own = {k: v for k, v in element.attrib.items() if not k.startswith("{")}
        text = element.get("style", "")
        bodies = [_declared(text)] if text else []
        wrapped = self._wrapped.get(element)
        if wrapped is not None:
            bodies = [found[-1] for found in self._matcher.match(wrapped)] + bodies
        for declared in (*(b.usual for b in bodies), *(b.important for b in bodies)):
            own |= declared
        return own

    def _substituted(self, value: str, style: dict[str, str]) -> str:
        """Return a value with its custom properties replaced (CSS Variables 1, 3): empty if one is missing."""
        for _ in range(MOST_VARIABLES):
            found = _VARIABLE.search(value)
            if found is None:
                return value
            put = style.get(found[1], found[2])
            if put is None or len(value) + len(put) > MOST_LETTERS:
                break
            value = value[: found.start()] + put.strip() + value[found.end() :]
        self.misread["variable that is not there"] += 1
        return ""

    def _inherit(self, name: str, value: str, style: dict[str, str]) -> None:
        """Set an inherited property; an invalid value leaves it unchanged (CSS Cascade 5, 7.3)."""
        word = value.strip().lower()
        if word in ("inherit", "unset", "revert", "revert-layer"):
            return
        if word == "initial":
            style[name] = INHERITED[name]
        elif name in ("fill", "stroke", "color") and not (word == "none" or word.startswith("url(") or read_css(word)):
            self.misread["colour that is not understood"] += 1
        else:
            style[name] = value

    def styled(self, element: Element, before: dict[str, str]) -> tuple[dict[str, str], dict[str, str]]:
        """Return an element's own declarations, and its style including what it inherits."""
        own = self.own(element)
        style = dict(before)
        short = _FONT.match(own["font"]) if "font" in own else None
        if short:
            own = {"font-size": short[1], "font-family": short[2], **own}
        style |= {name: value for name, value in own.items() if name.startswith("--")}
        for name, value in own.items():
            if "var(" in value:
                value = own[name] = self._substituted(value, style)
            if name in INHERITED and value:
                self._inherit(name, value, style)
        # an em refers to the parent's size, and inherited lengths are absolute (CSS Values 4, 6.1.1)
        size = own.get("font-size", "")
        if size and re.search(r"(?<!r)em\s*\Z|%\s*\Z", size):
            around = length(before["font-size"], 16.0, 16.0)
            by = re.sub(r"em|%", "", size)
            style["font-size"] = str(length(by, 16.0, 1.0) * around / (100 if "%" in size else 1))
        return own, style

    def around(self, element: Element) -> dict[str, str]:
        """Return the style that an element inherits where it is in the file, not where it is used."""
        if not self._parents:
            self._parents = {child: parent for parent in self._root.iter() for child in parent}
        above = [element]
        while above[-1] in self._parents and above[-1] not in self._around:
            above.append(self._parents[above[-1]])
        style = self._around.setdefault(above.pop(), dict(INHERITED))
        while above:
            style = self.styled(self._parents[above[-1]], style)[1]
            self._around[above.pop()] = style
        return style
