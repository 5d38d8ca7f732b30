"""Every sentence that a finding can say, printed once to be read aloud: ``python -m finearc.catalogue.spoken``."""

from __future__ import annotations

from pathlib import Path

from finearc.catalogue import library
from finearc.catalogue.rule_set import example_outcome
from finearc.core.judging.findings import FindingRule
from finearc.core.judging.words import evidence_sentence, fill, for_hand

HEAD = """# What findings say

Generated from the catalogue by `python -m finearc.catalogue.spoken`; do not edit by hand. Each finding as it is said
for the values of every example that fires: in the trade's words, in plain words, to a right-handed and to a left-handed
player, with what it rests on. Read it aloud after a change.
"""


def spoken_page() -> str:
    """The whole page as Markdown."""
    lines = [HEAD]
    for entry in library.finding_entries():
        rule = next(f for f in library.findings() if f.id == entry.id)
        lines += [f"## {rule.label}", ""]
        lines += [f"- {told}" for told in dict.fromkeys(_sentences(rule))]
        lines += [""]
    return "\n".join(lines)


def _sentences(rule: FindingRule) -> list[str]:
    entry = next(e for e in library.finding_entries() if e.id == rule.id)
    out = []
    for example in (e for e in entry.example if e.fires):
        evidence = example_outcome(rule.when, example, library.ranges()).evidence
        for plain in (False, True):
            out.append(f"{fill(rule.says, evidence[0], plain=plain)} {rule.tends}".strip())
        out += [f"“{for_hand(rule.player_says, left_handed=left)}”" for left in (False, True)]
        out += [evidence_sentence(e, plain=plain) for e in evidence for plain in (False, True)]
    return out


if __name__ == "__main__":
    page = Path(__file__).parents[3] / "docs" / "generated" / "sentences.md"
    page.write_text(spoken_page(), encoding="utf-8")
