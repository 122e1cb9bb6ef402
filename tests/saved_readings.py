"""Pages that were read once in a run of the tests are not read again: the same pixels and settings, the same reading.

Importing this is enough; processes that the tests start do so through ``at_start/sitecustomize.py``. Whoever sets
``ZESTPAIL_TEST_READINGS`` to a folder keeps them from run to run; set to nothing, every page is read each time.
"""

from __future__ import annotations

import hashlib
import importlib.util
import inspect
import os
import pickle
import sys
import tempfile
import zlib
from collections.abc import Callable, Iterable
from functools import wraps
from importlib.abc import Loader, MetaPathFinder
from pathlib import Path
from types import ModuleType
from typing import Any

FOLDER = "ZESTPAIL_TEST_READINGS"
ROOT = Path(__file__).parents[1]
_Asked = Callable[[inspect.BoundArguments], Iterable[bytes]]


def _page(call: inspect.BoundArguments) -> Iterable[bytes]:
    page = call.arguments.pop("page")
    return page.pixels.tobytes(), repr((page.pixels.shape, page.dpi, page.layer, page.data, call.arguments)).encode()


def _clip(call: inspect.BoundArguments) -> Iterable[bytes]:
    pixels, dpi, box = (call.arguments[name] for name in ("pixels", "dpi", "box"))
    top, bottom = (int(y * dpi / 72) for y in (box.y0 - 3, box.y1 + 4))
    return pixels[max(top, 0) : max(bottom, 0)].tobytes(), repr((pixels.shape, dpi, tuple(box))).encode()


READERS: dict[str, dict[str, _Asked | None]] = {
    "zestpail.core.reading.read": {"read_page": _page},
    "zestpail.core.reading.engines.second_reader": {"look": _clip, "warm": None},
}
"""By module the functions whose answers are kept, with what makes two calls the same; without: nothing is done."""


class _AsTheyAreImported(MetaPathFinder):
    """Lets the readers be imported as ever, and then stands before these functions."""

    def find_spec(self, name: str, path: object, target: object = None) -> Any:
        if name not in READERS:
            return None
        sys.meta_path.remove(self)
        spec = importlib.util.find_spec(name)
        sys.meta_path.insert(0, self)
        assert spec and spec.loader
        spec.loader = _Saving(spec.loader)
        return spec


class _Saving(Loader):
    def __init__(self, loader: Loader) -> None:
        self._loader = loader

    def create_module(self, spec: Any) -> ModuleType | None:
        return self._loader.create_module(spec)

    def exec_module(self, module: ModuleType) -> None:
        self._loader.exec_module(module)
        for name, asked in READERS[module.__name__].items():
            setattr(module, name, saving(getattr(module, name), asked))


def saving(function: Callable[..., Any], asked: _Asked | None) -> Callable[..., Any]:
    """The same function, which looks first whether that was read already."""
    signature = inspect.signature(function)

    @wraps(function)
    def read(*settings: Any, **named: Any) -> Any:
        if not os.environ.get(FOLDER):
            return function(*settings, **named)
        if asked is None:
            return None
        call = signature.bind(*settings, **named)
        call.apply_defaults()
        known = hashlib.sha256(function.__name__.encode())
        for part in asked(call):
            known.update(part)
        saved = Path(os.environ[FOLDER], known.hexdigest())
        if saved.exists():
            return pickle.loads(zlib.decompress(saved.read_bytes()))
        done = function(*settings, **named)
        with tempfile.NamedTemporaryFile(dir=saved.parent, delete=False) as arriving:
            arriving.write(zlib.compress(pickle.dumps(done), 1))
        Path(arriving.name).chmod(0o644)  # servers that root starts read as another user
        Path(arriving.name).rename(saved)
        return done

    return read


if FOLDER not in os.environ and "pytest" in sys.modules:
    os.environ[FOLDER] = tempfile.mkdtemp(prefix="zestpail-readings-")
    Path(os.environ[FOLDER]).chmod(0o777)
os.environ["PYTHONPATH"] = os.pathsep.join(str(path) for path in (ROOT / "src", ROOT, ROOT / "tests" / "at_start"))
if not READERS.keys() & sys.modules.keys():
    sys.meta_path.insert(0, _AsTheyAreImported())
