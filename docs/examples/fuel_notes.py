"""Print vessel and litres of all fuel notes in a folder, and write the values of each as XML: no server is needed."""

import sys
from pathlib import Path

import zestpail

HERE = Path(__file__).parent


def main(folder: Path, out: Path) -> None:
    by = zestpail.load_type(str(HERE / "fuel-note.json"))
    for note in zestpail.extract_all(sorted(folder.glob("fuel-note-*.[ptj]*[gf]")), by):
        print(note.value("vessel"), note.value("litres"), sep="\t")
        (out / Path(note.file).name).with_suffix(".xml").write_bytes(zestpail.written(note, by, "xml"))


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
