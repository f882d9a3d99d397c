"""Answers that are kept by what was asked, as many as a number of bytes allows: the last used stay."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

__all__ = ["Kept"]

Asked = TypeVar("Asked", bound=Hashable)
Answer = TypeVar("Answer")


class Kept(Generic[Asked, Answer]):
    """Answers up to `most` bytes together; `weigh` tells how many one has."""

    def __init__(self, most: int, weigh: Callable[[Answer], int]):
        self._most, self._weigh, self._weight = most, weigh, 0
        self._answers: OrderedDict[Asked, Answer] = OrderedDict()
        self._lock = Lock()

    def get(self, asked: Asked, work_out: Callable[[], Answer]) -> Answer:
        """Return the answer that is kept, or work it out; what is raised then is not kept."""
        with self._lock:
            if asked in self._answers:
                self._answers.move_to_end(asked)
                return self._answers[asked]
        answer = work_out()
        with self._lock:
            if asked not in self._answers:
                self._answers[asked] = answer
                self._weight += self._weigh(answer)
            while self._weight > self._most and self._answers:
                self._weight -= self._weigh(self._answers.popitem(last=False)[1])
        return answer
