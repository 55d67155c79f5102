"""The role that an action needs, stated where the action is."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar

from django.db import transaction

from .models import Role
from .scope import NotAllowed, Scope

P = ParamSpec("P")
R = TypeVar("R")


def needs(
    role: Role,
) -> Callable[[Callable[Concatenate[Scope, P], R]], Callable[Concatenate[Scope, P], R]]:
    """Refuse the action unless the scope's role includes ``role``; run it in one transaction."""

    def wrap(action: Callable[Concatenate[Scope, P], R]) -> Callable[Concatenate[Scope, P], R]:
        @wraps(action)
        def checked(scope: Scope, *args: P.args, **kwargs: P.kwargs) -> R:
            if not scope.role.may(role):
                raise NotAllowed(scope.role, role)
            with transaction.atomic():
                return action(scope, *args, **kwargs)

        return checked

    return wrap
