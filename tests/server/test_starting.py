"""A shop that starts where another one runs says so, and touches nothing."""

import socket
from pathlib import Path

import pytest
from shop.serving import claimed

from horismos.errors import NotReady


def test_data_that_another_shop_works_on_is_left_alone(tmp_path: Path) -> None:
    refused = pytest.raises(NotReady, match="Another Horismos works on the data")
    with claimed("127.0.0.1", 0, tmp_path), refused, claimed("127.0.0.1", 0, tmp_path):
        raise AssertionError("both work on one data")
    with claimed("127.0.0.1", 0, tmp_path):
        assert "process" in (tmp_path / "serving.lock").read_text()


def test_a_port_that_is_taken_is_named_before_anything_begins(tmp_path: Path) -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        port = other.getsockname()[1]
        with pytest.raises(NotReady, match=f"Port {port} of 127.0.0.1 is taken"), claimed("127.0.0.1", port, tmp_path):
            raise AssertionError("both listen on one port")
