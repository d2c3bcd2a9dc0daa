"""Work that outlasts a request: how far it has come, why it ended without an answer, and that it is taken up again."""

import logging
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.core.exceptions import ValidationError
from django.db import models, transaction

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people.records.fields import FloatField
from frimble.people.records.validators import Holding, share

MOST_TRIES = 3


class BackgroundWork(models.Model):
    """Something that the worker does for a page. Written once by a person, then by the worker."""

    class State(models.TextChoices):
        WAITING = "waiting", "waiting"
        RUNNING = "running", "being worked out"
        DONE = "done", "worked out"
        REFUSED = "refused", "refused"
        FAILED = "failed", "broken off"

    # What every answer names.
    answers = Holding()
    # It is at an end, whichever: nobody need ask how far it has come.
    ENDS = frozenset({State.DONE, State.REFUSED, State.FAILED})

    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    share_done = FloatField(default=0, validators=[share])
    doing = models.CharField(max_length=60, blank=True)
    refusal = models.CharField(max_length=400, blank=True)
    tries = models.PositiveSmallIntegerField(default=0)
    result = models.JSONField(null=True, blank=True)

    class Meta:
        abstract = True

    def clean(self) -> None:
        """An answer is there once it is done, and whole.

        Raises:
            ValidationError: it is not.
        """
        super().clean()
        if self.done:
            try:
                self.answers(self.result)
            except ValidationError as error:
                raise ValidationError({"result": error.messages}) from None

    @property
    def done(self) -> bool:
        return self.state == self.State.DONE

    @property
    def percent_done(self) -> int:
        return round(100 * self.share_done)

    @property
    def doing_words(self) -> str:
        return self.doing or "waiting for its turn"

    def progress(self) -> dict[str, Any]:
        """How far it has come, for a page that waits."""
        return {"ended": self.state in self.ENDS, "share": self.share_done, "doing": self.doing}

    def tell(self, share: float, doing: str) -> None:
        """How far it has come, 0..1, and with what it goes on."""
        type(self).objects.filter(pk=self.pk).update(share_done=share, doing=doing[:60])

    def end(self, state: str, why: str) -> None:
        """It ends without an answer."""
        type(self).objects.filter(pk=self.pk).update(state=state, refusal=why[:400], doing="")

    def keep_result(self, result: Any) -> None:
        """It ends with an answer; whatever else was set on it is stored too."""
        self.result, self.state, self.share_done, self.doing = result, self.State.DONE, 1, ""
        self.save()


@dataclass(frozen=True)
class FailureWords:
    """What is said of work that broke off: for want of memory, by a fault of the program ({fault}), too often."""

    memory: str
    fault: str
    too_often: str


def carry_out(
    work: BackgroundWork, do: Callable[[Any], None], words: FailureWords, logger: logging.Logger, begins: str
) -> None:
    """Do it; whatever breaks it is told on its page, never left running.

    Args:
        do: does the work and keeps its result. begins: with what it begins, in words.
    """
    if work.state in work.ENDS:
        return
    work.tries += 1
    type(work).objects.filter(pk=work.pk).update(state=work.State.RUNNING, doing=begins, tries=work.tries)
    try:
        do(work)
    except (InvalidInput, RuleViolation) as error:
        work.end(work.State.REFUSED, str(error))
    except MemoryError:
        logger.exception("work=%s try=%s failed", work.pk, work.tries)
        work.end(work.State.FAILED, words.memory)
    except Exception as error:
        logger.exception("work=%s try=%s failed", work.pk, work.tries)
        work.end(work.State.FAILED, words.fault.format(fault=type(error).__name__))


def take_up_left(model: type[BackgroundWork], task: Any, words: FailureWords) -> int:
    """Put what a killed worker or an earlier version left in the queue again; how many there were.

    What took its worker with it three times ends as failed. To be called before a worker starts, when nothing else
    can be at it.
    """
    running = model.objects.filter(state=model.State.RUNNING)
    for work in running.filter(tries__gte=MOST_TRIES):
        work.end(model.State.FAILED, words.too_often)
    running.update(state=model.State.WAITING, share_done=0, doing="")
    numbers = list(model.objects.filter(state=model.State.WAITING).values_list("pk", flat=True))
    for pk in numbers:
        task.enqueue(pk)
    return len(numbers)


def put_again(work: BackgroundWork, task: Any, refusal: str) -> None:
    """Put work that broke off in the queue once more.

    Args:
        refusal: what is said where it has not broken off.

    Raises:
        RuleViolation: it has not.
    """
    with transaction.atomic():
        failed = type(work).objects.filter(pk=work.pk, state=work.State.FAILED)
        if not failed.update(state=work.State.WAITING, tries=0, share_done=0, doing="", refusal=""):
            raise RuleViolation(refusal)
        transaction.on_commit(lambda: task.enqueue(work.pk))
