"""The words of the screen: every refusal, notice and label, held against the list of words that are not ours.

Refusals are read off the code itself, so that each is asked, also those that take long to
provoke; labels are read off the templates.
"""

import ast
import re
import unittest
from html.parser import HTMLParser
from pathlib import Path

from sheet.document.kinds import KINDS

ROOT = Path(__file__).resolve().parents[1]
SAYING = {"SheetError", "PictureError", "Remark", "Offer", "refusal", "CombinationPlan", "success", "error", "warning"}
"""Calls whose texts a person reads."""
FORBIDDEN = re.compile(
    r"\b((?<!here )(is|are) no (?!longer)|lies?\b|lying\b|stands? (?!out\b)|holds\b|held\b|hold (?!shift\b|<kbd)|"
    r"goes? out|rides?…? along|(is|are) so already|is what is there|chosen|deliver\w*|gauge|thrown away|let go\b|"
    r"by cell|keep (as a file|all as files)|apart\b|take over|make plain|take apart|swap\b|round tips|even out|"
    r"step inside|cells?\b|ready outlines?|post box|by itself$|take (it )?all away|of ours|exact numbers|busy, trying|"
    r"keep (it|the address)$|forgotten your|made plain|under way|pointed at|was not (taken|made))",
    re.IGNORECASE,
)
"""What reads translated, or has another word now."""
ALLOWED = ("further apart", "pieces apart", "edges apart")


def _texts(node: ast.expr) -> str:
    if isinstance(node, ast.Constant):
        return node.value if isinstance(node.value, str) else ""
    if isinstance(node, ast.JoinedStr):
        return "".join(v.value if isinstance(v, ast.Constant) else "…" for v in node.values)
    if isinstance(node, ast.IfExp):
        return f"{_texts(node.body)} {_texts(node.orelse)}"
    return ""


def said_by(file: Path) -> list[str]:
    """Return the texts of every call in a file that says something to a person."""
    out = []
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Call):
            name = getattr(node.func, "id", getattr(node.func, "attr", ""))
            if name in SAYING:
                given = [*node.args, *(k.value for k in node.keywords if k.arg in ("why", "remedy", "note"))]
                out += [text for arg in given if " " in (text := _texts(arg)).strip()]
    return out


class _Labels(HTMLParser):
    """What of a template is read: its text, titles and names for screen readers."""

    def __init__(self):
        super().__init__()
        self.out: list[str] = []
        self._mute = False

    def handle_starttag(self, tag, attrs):
        self._mute = tag in ("script", "style")
        self.out += [value for name, value in attrs if name in ("title", "aria-label", "placeholder") and value]

    def handle_data(self, data):
        if not self._mute and data.strip():
            self.out.append(data.strip())


def labels_of(template: Path) -> list[str]:
    """Return what a person reads of a template."""
    text = re.sub(r"{#.*?#}|{%.*?%}", " ", template.read_text(), flags=re.DOTALL)
    reader = _Labels()
    reader.feed(re.sub(r"{{.*?}}", "…", text))
    return reader.out


class Words(unittest.TestCase):
    def check(self, texts: dict[str, list[str]], least: int) -> None:
        self.assertGreater(sum(map(len, texts.values())), least)
        wrong = [
            f"{where}: {text}"
            for where, lines in texts.items()
            for text in lines
            if FORBIDDEN.search(text) and not any(words in text for words in ALLOWED)
        ]
        self.assertEqual(wrong, [], "\n".join(wrong))

    def files(self, pattern: str, *folders: str) -> list[Path]:
        return [f for folder in folders for f in sorted((ROOT / folder).rglob(pattern)) if "migrations" not in f.parts]

    def test_refusals(self):
        files = self.files("*.py", "sheet", "picture", "studio")
        self.check({str(f.relative_to(ROOT)): said_by(f) for f in files}, 500)

    def test_labels(self):
        files = self.files("*.html", "studio/editor", "studio/templates")
        self.check({f.name: labels_of(f) for f in files}, 500)

    def test_names_of_fields_are_no_names_of_the_code(self):
        names = [text for kind in KINDS.values() for f in kind.fields for text in (f.name, f.short)]
        self.assertGreater(len(names), 40)
        self.assertEqual([name for name in names if re.search("[a-z][A-Z]|_", name)], [])

    def test_notices_of_scripts(self):
        files = self.files("*.js", "studio/static/studio/js")
        said = re.compile(r'(?:notice|words|say|progress|k)\(\s*(["`][^;]*?)\)[;,\s]', re.DOTALL)
        texts = {f.name: re.findall(r'["`]([^"`]*? [^"`]*)["`]', " ".join(said.findall(f.read_text()))) for f in files}
        self.check(texts, 60)
