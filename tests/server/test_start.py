"""The first seconds of a server, while the compiled loops are still being loaded."""

from __future__ import annotations

import json
import urllib.request

from tests.serving import Server

STARTS = 2


def test_usd_goes_out_in_the_first_second(tmp_path, maren_file):
    """Loading the library while another thread loads the loops made the whole process stand still, now and then."""
    for start in range(STARTS):
        server = Server(tmp_path)
        server.start()
        try:
            if start == 0:
                server.take_in("m.seam", maren_file)
            with urllib.request.urlopen(f"{server.address}/api/characters/1/export.usd", timeout=60) as answer:
                if answer.status == 202:
                    assert server.settled(json.load(answer))["state"] == "done"
            with urllib.request.urlopen(f"{server.address}/api/characters/1/export.usd", timeout=60) as answer:
                assert answer.read(8) == b"PXR-USDC"
        finally:
            server.kill()
