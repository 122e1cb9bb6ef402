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
from collections.abc import Callable
from functools import wraps
from importlib.abc import Loader, MetaPathFinder
from pathlib import Path
from types import ModuleType
from typing import Any

FOLDER = "ZESTPAIL_TEST_READINGS"
READER = "zestpail.core.reading.read"
ROOT = Path(__file__).parents[1]


class _AsItIsImported(MetaPathFinder):
    """Lets the reader be imported as ever, and then stands before its one function."""

    def find_spec(self, name: str, path: object, target: object = None) -> Any:
        if name != READER:
            return None
        sys.meta_path.remove(self)
        spec = importlib.util.find_spec(name)
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
        module.read_page = saving(module.read_page)  # type: ignore[attr-defined]


def saving(read_page: Callable[..., Any]) -> Callable[..., Any]:
    """The same function, which looks first whether that was read already."""
    signature = inspect.signature(read_page)

    @wraps(read_page)
    def read(page: Any, *settings: Any, **named: Any) -> Any:
        if not os.environ.get(FOLDER):
            return read_page(page, *settings, **named)
        call = signature.bind(None, *settings, **named)
        call.apply_defaults()
        asked = hashlib.sha256(page.pixels.tobytes())
        asked.update(repr((page.pixels.shape, page.dpi, page.layer, call.arguments)).encode())
        saved = Path(os.environ[FOLDER], asked.hexdigest())
        if saved.exists():
            return pickle.loads(zlib.decompress(saved.read_bytes()))
        done = read_page(page, *settings, **named)
        with tempfile.NamedTemporaryFile(dir=saved.parent, delete=False) as arriving:
            arriving.write(zlib.compress(pickle.dumps(done), 1))
        Path(arriving.name).rename(saved)
        return done

    return read


os.environ.setdefault(FOLDER, tempfile.mkdtemp(prefix="zestpail-readings-") if "pytest" in sys.modules else "")
os.environ["PYTHONPATH"] = os.pathsep.join(str(path) for path in (ROOT / "src", ROOT, ROOT / "tests" / "at_start"))
if READER not in sys.modules:
    sys.meta_path.insert(0, _AsItIsImported())
