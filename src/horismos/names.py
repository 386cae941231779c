"""Ink names: tolerant on reading, exact on writing.

A line says what it is by the exact name of its ink. This module tells which role a name was
meant to say, how sure that is, and which letters keep it from being the exact name.
"""

import difflib
import re
import unicodedata
from dataclasses import dataclass, replace
from functools import cache

from horismos.destinations import SHIPPED, Destination
from horismos.roles import TRADE_WORDS, InkRole, LineRole, all_facts

__all__ = ["Recognised", "Run", "differences", "plain_words", "recognise", "roles_in_words", "spelling"]

Role = LineRole | InkRole

LOOK_ALIKES = str.maketrans({"0": "o", "1": "l", "i": "l", "|": "l", "5": "s", "8": "b"})
FILLERS = frozenset(
    ["spot", "ink", "colour", "color", "layer", "line", "lines", "path", "contour", "the", "job"]
)
PHRASES: tuple[tuple[frozenset[str], Role], ...] = tuple(sorted(
    ((frozenset(phrase.split()), role) for role, facts in all_facts() for phrase in facts.phrases),
    key=lambda row: -len(row[0]),
))
"""Words of the trade, and the roles they say, the longest first; the first that is wholly there counts."""
ALONE: dict[str, set[Role]] = {
    word: {role for role, other in all_facts() if word in other.alone}
    for _, facts in all_facts() for word in facts.alone
}
"""Words that say a role, or one of several, when nothing but fillers stands beside them."""


NUMBERED = re.compile(r"^(.*[^\W\d_])[\s_\-#.,:(/]*(?:n[or]\.?\s*)?(\d{1,3})[\s)%]*$", re.DOTALL)
"""A name with a number behind it, such as a tool's or a copy's."""
SURE = {
    "name of another table": "certain", "case, spaces or hyphens": "certain", "order of words": "certain",
    "look-alike letters": "likely", "typing error": "likely", "words": "a guess",
}
"""[ours] by what a name differs in; several roles that are equally near are always a guess."""


@dataclass(frozen=True)
class Recognised:
    """What a name was meant to say.

    ``roles`` holds one role, or several that are equally near (then a person is asked). ``exact``
    is true only where the name is the destination's own, letter for letter. ``how`` says in words
    in what the name differs, ``sure`` how sure it is what was meant: ``certain``, ``likely`` or
    ``a guess``. ``number`` is a number that stands behind the name: it may tell one tool of a role from another.
    """

    roles: tuple[Role, ...]
    exact: bool
    how: str
    sure: str = "certain"
    number: str = ""

    @property
    def role(self) -> Role | None:
        """The one role that the name says, or None where several are equally near."""
        return self.roles[0] if len(self.roles) == 1 else None


@dataclass(frozen=True)
class Run:
    """A run of letters of a name beside the letters that stand there in the exact one.

    ``kind`` is same, extra (nothing stands there in the exact one), missing (nothing stands here) or other.
    """

    text: str
    kind: str
    wanted: str = ""


def _words(name: str) -> list[str]:
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", unicodedata.normalize("NFKC", name))
    return re.findall(r"[^\W_]+", spaced.casefold())


def _letters(name: str) -> str:
    return "".join(_words(name))


def _distance(a: str, b: str, most: int) -> int:
    """Typing errors between two words: letters missing, extra, wrong or swapped with the next.

    The optimal-string-alignment distance; stops counting above ``most``.
    """
    if abs(len(a) - len(b)) > most:
        return most + 1
    before: list[int] = []
    row = list(range(len(b) + 1))
    for i, ca in enumerate(a, 1):
        above, row = row, [i] + [0] * len(b)
        for j, cb in enumerate(b, 1):
            row[j] = min(above[j] + 1, row[j - 1] + 1, above[j - 1] + (ca != cb))
            if i > 1 and j > 1 and ca == b[j - 2] and a[i - 2] == cb:
                row[j] = min(row[j], before[j - 2] + 1)
        before = above
        if min(row) > most:
            return most + 1
    return row[-1]


def _allowed_errors(letters: str) -> int:
    """[ours] no typing error in four letters, one in seven, two in more."""
    return 0 if len(letters) <= 4 else 1 if len(letters) <= 7 else 2


def _vocabulary(destination: Destination) -> list[tuple[Role, str]]:
    tables = (destination, *SHIPPED.values())
    exact = [(role, name) for table in tables for role, name in table.names.items()]
    return [*exact, *((role, name) for role, facts in all_facts() for name in facts.names)]


def recognise(name: str, destination: Destination) -> Recognised | None:
    """Tell the role that an ink name says or was meant to say; None where it says none.

    >>> from horismos.destinations import DEFAULT
    >>> recognise("Kiss Cut", DEFAULT).exact
    True
    >>> recognise("cut_kiss", DEFAULT).role
    <LineRole.KISS_CUT: 'kiss-cut'>
    >>> recognise("Harbour Blue", DEFAULT) is None
    True
    """
    exact = destination.role_named(name)
    if exact is not None:
        return Recognised((exact,), True, "exact")
    vocabulary = _vocabulary(destination)
    letters, words = _letters(name), _words(name)

    def said(how: str, wanted: set[Role]) -> Recognised | None:
        sure = SURE[how] if len(wanted) == 1 else "a guess"
        return Recognised(tuple(sorted(wanted)), False, how, sure) if wanted else None

    plainly = (
        said("name of another table", {r for r, n in vocabulary if n == name})
        or said("case, spaces or hyphens", {r for r, n in vocabulary if _letters(n) == letters})
        or said("order of words", {r for r, n in vocabulary if sorted(_words(n)) == sorted(words)})
    )
    if plainly is not None:
        return plainly
    numbered = NUMBERED.match(name)
    stem = recognise(numbered[1], destination) if numbered else None
    if stem is not None and numbered is not None:
        return replace(stem, exact=False, how="a number behind it", number=numbered[2])
    return (
        said(
            "look-alike letters",
            {
                r
                for r, n in vocabulary
                if _letters(n).translate(LOOK_ALIKES) == letters.translate(LOOK_ALIKES)
            },
        )
        or said("typing error", _mistyped(words, letters, vocabulary))
        or said("words", _by_words(words))
    )


def _mistyped(words: list[str], letters: str, vocabulary: list[tuple[Role, str]]) -> set[Role]:
    """The roles whose names are nearest within the errors that their length allows."""
    best: dict[int, set[Role]] = {}
    for role, name in vocabulary:
        target = _letters(name)
        most = _allowed_errors(target)
        sorted_target = "".join(sorted(_words(name)))
        distance = min(
            _distance(letters, target, most),
            _distance("".join(sorted(words)), sorted_target, most),
        )
        if distance <= most:
            best.setdefault(distance, set()).add(role)
    return best[min(best)] if best else set()


def _by_words(words: list[str]) -> set[Role]:
    there = set(words)
    for phrase, role in PHRASES:
        if phrase <= there:
            return {role}
    meant = [w for w in words if w not in FILLERS and not w.isdigit()]
    found = [ALONE.get(w) for w in meant]
    if not found or any(roles is None for roles in found):
        return set()
    return {role for roles in found if roles for role in roles}


KINDS = {"equal": "same", "delete": "extra", "insert": "missing", "replace": "other"}
"""What a step from a name to the exact one is to somebody who reads the name."""


def spelling(name: str, wanted: str) -> tuple[Run, ...]:
    """Set a name beside the exact one, letter by letter.

    ``extra`` letters are too many in the name, ``missing`` ones are not in it, ``other`` ones
    stand where a different letter should.

    >>> [(r.text, r.wanted, r.kind) for r in spelling("Kis Cut", "Kiss Cut")]
    [('Ki', 'Ki', 'same'), ('', 's', 'missing'), ('s Cut', 's Cut', 'same')]
    """
    matcher = difflib.SequenceMatcher(None, name, wanted, autojunk=False)
    return tuple(Run(name[a0:a1], KINDS[kind], wanted[b0:b1]) for kind, a0, a1, b0, b1 in matcher.get_opcodes())


def differences(name: str, wanted: str) -> tuple[str, ...]:
    """How a name differs from the exact one, letter by letter, in words.

    >>> differences("Kis Cut", "Kiss Cut")
    ('“s” is missing after “Ki”',)
    >>> differences("kiss-Cut", "Kiss Cut")
    ('“k” stands for “K”', '“-” stands for a space')
    """
    matcher = difflib.SequenceMatcher(None, name, wanted, autojunk=False)
    out = []
    for kind, a0, a1, b0, b1 in matcher.get_opcodes():
        after = f" after {_shown(name[:a0])}" if a0 else " at the beginning"
        if kind == "insert":
            out.append(f"{_shown(wanted[b0:b1])} is missing{after}")
        elif kind == "delete":
            out.append(f"{_shown(name[a0:a1])} is too much{after}")
        elif kind == "replace":
            out.append(f"{_shown(name[a0:a1])} stands for {_shown(wanted[b0:b1])}")
    return tuple(out)


def _shown(text: str) -> str:
    """Letters in quotation marks; a space, which cannot be seen, by its name."""
    return "a space" if text == " " else f"{len(text)} spaces" if text.isspace() else f"“{text}”"


def plain_words(text: str) -> str:
    """Lower case without accents, words parted by single spaces."""
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", unicodedata.normalize("NFKD", text))
    letters = "".join(c for c in spaced if not unicodedata.combining(c)).replace("ł", "l").replace("Ł", "L")
    return " ".join(re.findall(r"[^\W\d_]+", letters.casefold()))


@cache
def _trade() -> tuple[tuple[str, frozenset[LineRole]], ...]:
    """The words of the trade as they are compared, the longest first."""
    known: dict[str, set[LineRole]] = {}
    for role, words in TRADE_WORDS.items():
        for word in words:
            known.setdefault(plain_words(word), set()).add(role)
    return tuple(sorted(((w, frozenset(roles)) for w, roles in known.items()), key=lambda row: -len(row[0])))


def roles_in_words(name: str) -> tuple[LineRole, ...]:
    """The roles that a name says by a word of the trade in one of ten languages; none where it says none.

    >>> roles_in_words("Stanzkontur 2"), roles_in_words("Harbour Blue")
    ((<LineRole.THROUGH_CUT: 'through-cut'>,), ())
    """
    text = f" {plain_words(name)} "
    for word, roles in _trade():
        if f" {word} " in text:
            return tuple(sorted(roles, key=list(LineRole).index))
    return ()
