"""What is not there any more, or was changed by somebody else since it was read."""

from mirvel.core.values.problems import MirvelError


class NoSuchRecipe(MirvelError):
    """There is no recipe of that number."""

    def __init__(self, recipe_id: int) -> None:
        super().__init__(f"There is no recipe number {recipe_id}. It may have been removed; the Shelf has the others.")


class StaleState(MirvelError):
    """Somebody else saved the recipe since it was read."""

    def __init__(self) -> None:
        super().__init__(
            "This recipe was changed elsewhere since you opened it, so your last change was not saved. "
            "What you see now is its newest state: make your change again on it."
        )


class StaleRules(MirvelError):
    """Somebody else changed the house rules since they were read."""

    def __init__(self) -> None:
        super().__init__(
            "The house rules were changed elsewhere since you opened them, so yours were not saved. What you typed is "
            "still here: look at it once more, and keep it if it is right."
        )


class NoSuchStandard(MirvelError):
    """The recipe has no standard of that number."""

    def __init__(self, number: int) -> None:
        super().__init__(f"This recipe has no standard number {number}. Its page of standards has those it has.")
