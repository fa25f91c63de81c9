"""The wholesaler's daily price feed: one JSON document a day, described in docs/price-feed.md."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from mirvel.core.buying.price_list import MOST_ROWS, Cell, ListMapping, PricePer, Table
from mirvel.core.values.fact import KEPT
from mirvel.core.values.problems import BadInput, Problem, get_problems

SUFFIX = ".feed.json"
FEED_MAPPING = ListMapping(
    heading_row=1, name="description", code="code", price="price", pack="pack", price_per=PricePer.PACK
)


class FeedArticle(BaseModel):
    """One article of the day: so much for a pack of so many."""

    model_config = ConfigDict(frozen=True, extra="ignore")

    code: str = Field(min_length=1, max_length=80, pattern=KEPT)
    description: str = Field(min_length=1, max_length=200, pattern=KEPT)
    pack: Annotated[Decimal, Field(gt=0, le=10_000)]
    price: Annotated[Decimal, Field(gt=0, le=100_000)]


class Feed(BaseModel):
    """A day's prices."""

    model_config = ConfigDict(frozen=True, extra="ignore")

    format: Literal["daily prices"]
    version: Literal[1]
    day: date
    currency: str = Field(min_length=1, max_length=4, pattern=KEPT)
    articles: tuple[FeedArticle, ...] = Field(min_length=1, max_length=MOST_ROWS)


def parse_feed(content: bytes) -> Feed:
    """A feed's document. Raises BadInput saying what is wrong with it."""
    try:
        return Feed.model_validate_json(content)
    except ValidationError as error:
        problems = get_problems(error)
        mend = "Nothing of it was used. Ask the wholesaler, or bring in a list by hand."
        first = problems[0]
        raise BadInput(Problem("the feed", f"is not as agreed: {first.field} {first.message}", mend)) from None


def read_feed(content: bytes) -> Table:
    """A feed as the table of a price list. Raises BadInput."""
    feed = parse_feed(content)
    headings: tuple[Cell, ...] = ("code", "description", "pack", "price")
    rows = ((each.code, each.description, each.pack, each.price) for each in feed.articles)
    return Table((headings, *rows))
