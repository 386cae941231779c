"""Which code this is: any change of it is another one, wherever it lies."""

from pathlib import Path

from horismos.fingerprint import code_fingerprint


def code(folder: Path, **files: str) -> str:
    for name, text in files.items():
        path = folder / f"{name.replace('__', '/')}.py"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)
    return code_fingerprint(folder)


def test_another_line_another_name_and_another_file_are_other_code(tmp_path: Path) -> None:
    first = code(tmp_path / "a", checking__bleed="LIMIT = 3", words="")
    assert code(tmp_path / "elsewhere" / "a", checking__bleed="LIMIT = 3", words="") == first
    assert code(tmp_path / "b", checking__bleed="LIMIT = 4", words="") != first
    assert code(tmp_path / "c", checking__bleeds="LIMIT = 3", words="") != first
    assert code(tmp_path / "d", checking__bleed="LIMIT = 3", words="", more="") != first


def test_the_command_line_finds_nothing(tmp_path: Path) -> None:
    first = code(tmp_path / "a", words="x = 1", cli__main="y = 1")
    assert code(tmp_path / "b", words="x = 1", cli__main="y = 2") == first
