"""The forms a piece can be built to. A module in this folder that makes a ``FORM`` is a form; adding one adds it."""

from collections.abc import Mapping
from importlib import import_module
from pkgutil import iter_modules
from types import MappingProxyType

from mirvel.core.forms.form import Form


def _find_forms() -> dict[str, Form]:
    modules = [import_module(f"{__name__}.{found.name}") for found in iter_modules(__path__)]
    forms: list[Form] = [module.FORM for module in modules if hasattr(module, "FORM")]
    return {form.name: form for form in sorted(forms, key=lambda form: form.name)}


FORMS: Mapping[str, Form] = MappingProxyType(_find_forms())
