"""What every document and every value of the core is made of."""

from typing import Literal

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """A value: immutable, compared by content, unknown keys refused."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Problem(Frozen):
    """Something wrong, as a value: what, where, and what to do about it."""

    code: str
    place: str = ""
    sentence: str
    fix: str = ""


class Finding(Problem):
    """A problem found in pre-flight. One that `stops` keeps the thing from being turned on."""

    stops: bool = True


How = Literal["fills", "confirms", "takes", "looks at", "starts", "ends", "sends", "belongs to"]


class Use(Frozen):
    """One thing that a document names, and what it does with it."""

    id: str
    how: How
