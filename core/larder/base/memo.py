"""Memos bounded by what they hold in bytes: a large answer pushes out many small ones, never the machine.

A memo never changes an answer. What has not been asked for the longest time goes first; an answer larger than
the whole memo is not kept.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import wraps
from threading import Lock
from typing import Any, Generic, NamedTuple, ParamSpec, TypeVar

P = ParamSpec("P")
R = TypeVar("R")


class _Kept(NamedTuple, Generic[R]):
    """An answer, its size, and the key it is kept under, the very object: found by it without comparing."""

    answer: R
    size_bytes: int
    key: Hashable


class Memo(Generic[P, R]):
    """A function that keeps answers, up to ``bytes_max`` by the estimate ``bytes_of(answer, *arguments)``.

    Arguments are positional and hashable. Safe to call from several threads: two that ask the same at once
    may both work it out.
    """

    def __init__(self, function: Callable[P, R], bytes_max: int, bytes_of: Callable[..., int]) -> None:
        wraps(function)(self)
        self.__wrapped__ = function
        self.bytes_max, self.bytes_of = bytes_max, bytes_of
        self.bytes_held = 0
        self._kept: OrderedDict[Hashable, _Kept[R]] = OrderedDict()
        self._lock = Lock()
        _ALL.append(self)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> R:
        found = self._found(_key(args, kwargs))
        if found is not None:
            return found.answer
        answer = self.__wrapped__(*args, **kwargs)
        self.keep(answer, *args, **kwargs)
        return answer

    def peek(self, *args: P.args, **kwargs: P.kwargs) -> R | None:
        """The answer if it is kept, else None; nothing is worked out."""
        found = self._found(_key(args, kwargs))
        return None if found is None else found.answer

    def _found(self, key: Hashable) -> _Kept[R] | None:
        aside = _ASIDE.get()
        if aside is not None and (self, key) in aside:
            return _Kept(aside[self, key], 0, key)
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(found.key)
            return found

    def keep(self, answer: R, *args: P.args, **kwargs: P.kwargs) -> None:
        """Keep ``answer`` as the one to these arguments."""
        aside, key = _ASIDE.get(), _key(args, kwargs)
        if aside is not None:
            aside[self, key] = answer
            return
        size = self.bytes_of(answer, *args)
        with self._lock:
            if size <= self.bytes_max and key not in self._kept:
                self._kept[key] = _Kept(answer, size, key)
                self.bytes_held += size
            while self.bytes_held > self.bytes_max:
                _, oldest = self._kept.popitem(last=False)
                self.bytes_held -= oldest.size_bytes

    def __len__(self) -> int:
        return len(self._kept)

    def cache_clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._kept.clear()
            self.bytes_held = 0


def _key(args: tuple[Any, ...], kwargs: dict[str, Any]) -> Hashable:
    return args if not kwargs else (args, tuple(sorted(kwargs.items())))


_ASIDE: ContextVar[dict[Hashable, Any] | None] = ContextVar("_ASIDE", default=None)


@contextmanager
def kept_aside() -> Iterator[None]:
    """What is worked out within is kept until the end of it only: for questions that are asked once.

    Hundreds of them would push out what people at work ask again and again.
    """
    token = _ASIDE.set({})
    try:
        yield
    finally:
        _ASIDE.reset(token)


_ALL: list[Memo[..., Any]] = []


def forget_all() -> None:
    """Forget everything that any memo keeps: what is asked next is worked out anew."""
    for memo in _ALL:
        memo.cache_clear()


def remembered(bytes_max: int, bytes_of: Callable[..., int]) -> Callable[[Callable[P, R]], Memo[P, R]]:
    """Decorate a pure function with a :class:`Memo` of at most ``bytes_max``."""
    return lambda function: Memo(function, bytes_max, bytes_of)
