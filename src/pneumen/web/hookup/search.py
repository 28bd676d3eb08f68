"""The guided search for a fault: all that was answered stands in its address, so that a step back takes it back."""

from dataclasses import dataclass, replace
from urllib.parse import urlencode

from django.http import QueryDict

from pneumen.core.hookup import ANSWERS, COMPLAINTS, Next, Recorded, Search, next_step, odds_by_place, traits_of
from pneumen.web.hookup.picture import Loop
from pneumen.web.hookup.services import chain_of
from pneumen.web.hookup.show import way_searched
from pneumen.web.part.models import Part
from pneumen.wording import troubles as words
from pneumen.wording.language import _

LIKELY: float = 0.05
MOST_TOLD = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Said:
    """What was answered or tried, and the address without it."""

    told: str
    answer: str
    back: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SearchScreen:
    """What the search shows: what comes next with its buttons, what was said, what is likely, and where.

    heard is what a recording told, address what leads here again.
    """

    title: str
    told: str
    kind: str
    buttons: tuple[tuple[str, str], ...]
    said: tuple[Said, ...]
    likely: tuple[tuple[str, int], ...]
    heard: str = ""
    loops: tuple[Loop, ...] = ()
    address: str = ""


def search_screen(part: Part, sent: QueryDict) -> SearchScreen:
    """Return what the search shows after what was sent.

    Raises:
        UnknownName: for an answer that cannot be.
    """
    heard = words.heard_told([one for one in sent.get("heard", "").split(",") if one in COMPLAINTS], "heard" in sent)
    if "complaint" not in sent:
        chosen = tuple((told, _address(complaint=slug)) for slug, told in words.COMPLAINTS.items())
        return _screen(_("What is wrong?"), "", "complaint", chosen, heard=heard)
    search = search_from(part, sent)
    said = _said(search)
    if "found" in sent:
        again = ((_("Something is still wrong"), _address()),)
        return _screen(_("Now test again"), words.FOUND, "found", again, said=said)
    step = next_step(search)
    screen = _screen(*_told(step), step.kind, _buttons(search, step), said=said, likely=_likely(step), heard=heard)
    return replace(screen, loops=way_searched(part, odds_by_place(step)), address=address_of(search))


def after_recording(part: Part, sent: QueryDict, recorded: Recorded) -> str:
    """Return the address of the search once a recording has answered; without a complaint it tells that too.

    Raises:
        UnknownName: for what is not in the tables.
    """
    heard = urlencode({"heard": ",".join(recorded.shows)})
    if "complaint" not in sent and not recorded.shows:
        return f"?{heard}"
    complaint = sent.get("complaint") or recorded.shows[0]
    search = (
        search_from(part, sent) if "complaint" in sent else Search(complaint=complaint, has=traits_of(chain_of(part)))
    )
    for question, answer in recorded.answers(complaint):
        search = search.answered(question, answer)
    return f"{address_of(search)}&{heard}"


def search_from(part: Part, sent: QueryDict) -> Search:
    """Read a search from an address.

    Raises:
        UnknownName: for what is not in the tables.
    """
    search = Search(complaint=str(sent["complaint"]), has=traits_of(chain_of(part)))
    for one in sent.getlist("a"):
        question, _rest, answer = one.partition(":")
        search = search.answered(question, answer)
    for cause in sent.getlist("t"):
        search = search.after_trial(cause)
    return search


def _screen(
    title: str,
    told: str,
    kind: str,
    buttons: tuple[tuple[str, str], ...],
    *,
    said: tuple[Said, ...] = (),
    likely: tuple[tuple[str, int], ...] = (),
    heard: str = "",
) -> SearchScreen:
    return SearchScreen(title=title, told=told, kind=kind, buttons=buttons, said=said, likely=likely, heard=heard)


def _told(step: Next) -> tuple[str, str]:
    match step.kind:
        case "question":
            return words.QUESTIONS[step.slug], ""
        case "trial":
            return _("Try this"), words.TRIALS[step.slug]
        case "stop":
            return "Stop", words.STOP
        case _:
            return _("Another way"), words.ELSE


def _buttons(search: Search, step: Next) -> tuple[tuple[str, str], ...]:
    if step.kind == "question":
        return tuple((words.ANSWERS[one], address_of(search.answered(step.slug, one))) for one in ANSWERS)
    if step.kind == "trial":
        helped = f"{address_of(search)}&found=1"
        return (_("It helped"), helped), (_("It did not: put back, go on"), address_of(search.after_trial(step.slug)))
    return ((_("Begin anew"), _address()),)


def _said(search: Search) -> tuple[Said, ...]:
    found = [Said(told=words.COMPLAINTS[search.complaint], answer="", back=_address())]
    if search.tingle:
        answer = words.ANSWERS[search.tingle]
        found.append(Said(told=words.QUESTIONS["tingle"], answer=answer, back=address_of(search.without("tingle"))))
    for question, answer in search.answers:
        back = address_of(search.without(question))
        found.append(Said(told=words.QUESTIONS[question], answer=words.ANSWERS[answer], back=back))
    for number, cause in enumerate(search.tried):
        tried = (*search.tried[:number], *search.tried[number + 1 :])
        back = address_of(replace(search, tried=tried))
        found.append(Said(told=words.TRIALS[cause], answer=_("did not help"), back=back))
    return tuple(found)


def _likely(step: Next) -> tuple[tuple[str, int], ...]:
    return tuple((words.TRIALS[cause], round(100 * odds)) for cause, odds in step.odds[:MOST_TOLD] if odds >= LIKELY)


def address_of(search: Search) -> str:
    """Write a search as the query of its address."""
    answers = [("a", f"{question}:{answer}") for question, answer in search.answers]
    if search.tingle:
        answers.insert(0, ("a", f"tingle:{search.tingle}"))
    tried = [("t", cause) for cause in search.tried]
    return "?" + urlencode([("complaint", search.complaint), *answers, *tried])


def _address(**sent: str) -> str:
    return "?" + urlencode(sent)
