"""The margin: the working of whatever is chosen, the findings of the stage, and help. All of it text that can be read
aloud, copied and walked through by keyboard."""

from __future__ import annotations

from html import escape
from pathlib import Path
from urllib.parse import quote

from PyQt6.QtCore import QUrl, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from robust_ledger.callout.manifest import LINES
from robust_ledger.desk.kit.fields import keep_typing
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.spec import manifest
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import Label
from robust_ledger.desk.shell.places import findings_at
from robust_ledger.job.edits import accept_finding
from robust_ledger.ledger.entry import CURED, Citation, Entry, Finding, Severity
from robust_ledger.ledger.groups import Group, grouped
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan


def spoken_help(stage: str) -> str:
    """What can be said in the call-out line of a stage, from its vocabulary."""
    from robust_ledger.callout.completions import said_on  # once help is opened

    own = said_on(stage) if stage in LINES else ()
    lines = ["## What can be said", "**F3** is the line. A value stands where yours goes."]
    if own:
        lines.append(" · ".join(f"`{one}`" for one in own))
    lines.append(f"Anywhere: {' · '.join(f'`{one}`' for one in said_on('anywhere'))}")
    return "\n\n".join(lines)


HELP = Path(__file__).parents[2] / "assets" / "help"


class Margin(QFrame):
    """Working above, findings below; F1 puts the stage's help in their place."""

    place_asked = pyqtSignal(str)

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.setObjectName("margin")
        self.store = store
        self.stage, self.place, self.helping = next(iter(manifest())), "", False
        self.entry_ids: tuple[str, ...] = ()
        self.shown_html = ""
        self.all_open, self.opened = False, set[str]()
        self.text = QTextBrowser()
        self.text.setOpenLinks(False)
        self.text.setAccessibleName("Margin: working and findings")
        self.text.anchorClicked.connect(self._follow)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 4, 6)
        layout.addWidget(self.text, 1)
        self._build_acceptance(layout)

    def _build_acceptance(self, layout: QVBoxLayout) -> None:
        """One line to accept a finding with a reason, shown when it is asked for."""
        self.acceptance = QWidget()
        column = QVBoxLayout(self.acceptance)
        column.setContentsMargins(0, 0, 4, 0)
        self.acceptance_label = Label()
        self.acceptance_label.setWordWrap(True)
        self.acceptance_label.setProperty("role", "faint")
        self.reason = QLineEdit()
        self.reason.setAccessibleName("Reason for accepting the finding")
        self.reason.setPlaceholderText("reason, printed on the sheet")
        button = QPushButton("Accept")
        row = QHBoxLayout()
        row.addWidget(self.reason, 1)
        row.addWidget(button)
        column.addWidget(self.acceptance_label)
        column.addLayout(row)
        self.reason.returnPressed.connect(self._accept)
        keep_typing(self.reason, self.store, "reason for accepting")
        button.clicked.connect(self._accept)
        self.accepting = ""
        self.acceptance.hide()
        layout.addWidget(self.acceptance)

    def show_stage(self, stage: str) -> None:
        self.stage, self.place, self.helping = stage, "", False
        self.entry_ids = self._opening(stage)
        self.acceptance.hide()
        self.refresh()

    def _opening(self, stage: str) -> tuple[str, ...]:
        """What a stage opens with: the figure it is about."""
        return manifest()[stage].opening(self.store.seen)

    def show_entries(self, entry_ids: tuple[str, ...], place: str = "") -> None:
        """Show the working of one or more entries, and the findings at `place` first."""
        self.entry_ids, self.place, self.helping = entry_ids, place, False
        self.refresh()
        there(self.text.verticalScrollBar()).setValue(0)

    def show_help(self) -> None:
        """Show the stage's help and cautions; a second time puts the working back."""
        self.helping = not self.helping
        self.refresh()

    def refresh(self) -> None:
        plan = self.store.plan
        at = there(self.text.verticalScrollBar()).value()
        if self.helping:
            text = (HELP / manifest()[self.stage].help_file).read_text(encoding="utf-8")
            text = f"{text}\n\n{spoken_help(self.stage)}"
            self.shown_html = ""
            there(self.text.document()).setDefaultStyleSheet(self._styles())
            self.text.setMarkdown(text)
            return
        parts = [f"<style>{self._styles()}</style>"]
        shown = [entry for entry_id in self.entry_ids if (entry := plan.entry(entry_id))]
        parts += [_entry_html(entry) for entry in shown]
        parts.append(self._findings_html(plan))
        if not shown and len(parts[-1]) < 80:
            parts.append(
                "<p class=faint>Choose a figure or a line to see its working here. F1 says what to look for.</p>"
            )
        html = "".join(parts)
        if html == self.shown_html:  # laying it out anew is the larger part of an edit that changes nothing here
            return
        self.shown_html = html
        self.text.setHtml(html)
        there(self.text.verticalScrollBar()).setValue(at)

    def _findings_html(self, plan: Plan) -> str:
        everything = self.entry_ids == ("findings",)
        findings = list(plan.findings) if everything else plan.findings_of(self.stage)
        here = findings_at(plan, self.place) if self.place else []
        rest = [f for f in findings if f not in here]
        title = "All findings" if everything else "Findings of this stage"
        parts = ["".join(_finding_html(f) for f in here)]
        if rest:
            parts.append(f"<p class=head>{title if not here else 'Other findings'}</p>")
            parts += [self._group_html(group) for group in grouped(rest)]
        elif not here:
            words = f"Findings are {withheld}." if (withheld := self.store.plan.withheld) else "No findings."
            parts.append(f"<p class=faint>{words}</p>")
        return "".join(parts)

    def _group_html(self, group: Group) -> str:
        """A finding, or a line for several of one kind; opened, each of them below it."""
        if group.alone:
            return _finding_html(group.first)
        opened = self.all_open or group.key in self.opened
        head = _group_head(group, opened)
        return head + ("".join(_finding_html(finding) for finding in group.findings) if opened else "")

    def switch_groups(self) -> None:
        """Open every group of findings, or close them again."""
        self.all_open, self.opened = not self.all_open, set()
        self.refresh()

    def _styles(self) -> str:
        t, px = LOOK.theme, LOOK.px
        return (
            f"body {{ font-size: {px(12)}px; color: {t.ink}; }} p {{ margin: 0 0 {px(4)}px 0; }} a {{ color: {t.accent}; text-decoration: none; }}"
            f".head {{ font-size: {px(14)}px; font-weight: bold; margin-top: {px(8)}px; margin-bottom: {px(6)}px; }}"
            f".faint {{ color: {t.faint}; }} .big {{ font-size: {px(20)}px; font-weight: bold; }}"
            f"td {{ font-size: {px(12)}px; padding: {px(2)}px 0; }} .fig {{ white-space: nowrap; }}"
            f"h1 {{ font-size: {px(16)}px; }} h2 {{ font-size: {px(13)}px; }} code {{ font-family: 'B612 Mono'; color: {t.accent}; }}"
        )

    def _follow(self, url: QUrl) -> None:
        kind, rest = url.scheme(), url.path(QUrl.ComponentFormattingOption.FullyDecoded)
        if kind == "group":
            self.opened ^= {rest}
            self.refresh()
            return
        if kind == "accept":
            finding = next((f for f in self.store.plan.findings if f.id == rest), None)
            if finding:
                self._ask_reason(finding)
        elif entry_id := Place(rest).entry_id:
            self.store.choose_entry(entry_id)
        else:
            self.place_asked.emit(rest)

    def _ask_reason(self, finding: Finding) -> None:
        self.accepting = finding.id
        self.acceptance_label.setText(
            f'Accept "{finding.title}" because …' if not finding.accepted else "Change the reason; empty takes it back."
        )
        self.reason.setText(finding.accepted)
        self.acceptance.show()
        self.reason.setFocus()

    def _accept(self) -> None:
        finding_id, reason = self.accepting, self.reason.text()
        self.acceptance.hide()
        label = "accept a finding" if reason.strip() else "take back an acceptance"
        self.store.edit(label, lambda job: accept_finding(job, finding_id, reason))


def _cites_html(cites: tuple[Citation, ...]) -> str:
    return " · ".join(escape(str(cite)) for cite in cites)


def _entry_html(entry: Entry) -> str:
    """An entry's value and every step of it, ruled like the page."""
    rule, px = LOOK.theme.rule, LOOK.px
    line = f"<tr><td colspan=2 style='background:{rule}; font-size:1px; padding:0' height=1></td></tr>"
    rows = []
    for step in entry.steps:
        label = escape(step.label)
        if step.place:
            label = f"<a href='place:{quote(step.place)}'>{label}</a>"
        how = f"<br><span class=faint>{escape(step.how)}</span>" if step.how else ""
        cites = f"<br><span class=faint>{_cites_html(step.cites)}</span>" if step.cites else ""
        long = isinstance(step.value, str) and len(step.text()) > 14
        if long:
            rows.append(f"<tr><td colspan=2>{label}: {escape(step.text())}{cites}</td></tr>{line}")
        else:
            rows.append(
                f"<tr><td width='76%'>{label}{how}{cites}</td><td width='24%' class=fig align=right valign=top>{escape(step.text())}</td></tr>{line}"
            )
    unknown = (
        f"<p style='color:{LOOK.theme.stop}'>Not known: {escape(entry.why_unknown)}</p>" if not entry.known else ""
    )
    local = "<p><b>A local amendment had a part in this.</b></p>" if entry.local else ""
    return (
        f"<p class=head>{escape(entry.label)}</p><p class=big>{escape(entry.text())}</p>{unknown}{local}"
        f"<table width='100%' cellspacing=0 cellpadding={px(2)}>{line}{''.join(rows)}</table>"
        f"<p style='color:{LOOK.theme.accent}'>{_cites_html(entry.sections())}</p><p></p>"
    )


def _badge(severity: Severity) -> str:
    theme = LOOK.theme
    return (
        f"<span style='background:{theme.severity(str(severity))}; color:{theme.badge_ink}; font-size:{LOOK.px(11)}px; font-weight:bold'>"
        f"&nbsp;{severity}&nbsp;</span>"
    )


def _group_head(group: Group, opened: bool) -> str:
    """One line for findings of one kind, with what to do about them."""
    px, words = LOOK.px, "close" if opened else f"open\u00a0{len(group.findings)}"
    body = "" if opened else f"<p>{escape(group.text)} <b>{escape(group.remedy)}</b><br>"
    cites = "" if opened else f"<span style='color:{LOOK.theme.accent}'>{_cites_html(group.cites)}</span></p>"
    return (
        f"<p style='margin-top:{px(6)}px'>{_badge(group.severity)} <b>{escape(group.title)}</b> {_cured(group.first)} "
        f"<a href='group:{quote(group.key)}'>{words}</a></p>{body}{cites}<hr>"
    )


def _cured(finding: Finding) -> str:
    return f"<i style='color:{LOOK.theme.accent}'>{CURED}</i>" if finding.cured and not finding.accepted else ""


def _finding_html(finding: Finding) -> str:
    theme, px = LOOK.theme, LOOK.px
    badge, cured = _badge(finding.severity), _cured(finding)
    cites = f"<span style='color:{theme.accent}'>{_cites_html(finding.cites)}</span>"
    if finding.accepted:
        state = f"<br><i>Accepted: {escape(finding.accepted)}</i> <a href='accept:{quote(finding.id)}'>change</a>"
    else:
        state = (
            f" &nbsp; <a href='accept:{quote(finding.id)}'>accept…</a>" if finding.open and finding.acceptable else ""
        )
    return (
        f"<p style='margin-top:{px(6)}px'>{badge} <a href='place:{quote(finding.place)}'><b>{escape(finding.title)}</b></a> {cured}</p>"
        f"<p>{escape(finding.text)} <b>{escape(finding.remedy)}</b><br>{cites}{state}</p><hr>"
    )
