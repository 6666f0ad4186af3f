"""What can be wrong with a question put to the core."""


class CoreError(ValueError):
    """Base of the errors that the core raises."""


class PlanError(CoreError):
    """A plan, or a part of one, that cannot be read.

    field: where, as a path such as ``drops/2/section/height_m`` ("" for the whole).
    message: what was found and what would be accepted, one sentence.
    """

    def __init__(self, field: str, message: str):
        super().__init__(f"{field}: {message}" if field else message)
        self.field = field
        self.message = message


class GeometryError(CoreError):
    """A section that has no meaning: it crosses itself or does not go down."""


class Cancelled(Exception):
    """The question is no longer asked."""


class TableError(CoreError):
    """A table file that breaks the rules for tables, or a row that is not there."""
