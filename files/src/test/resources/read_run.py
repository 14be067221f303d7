"""Reads a run folder with nothing but Python's own library, and prints what it saw as JSON."""
import base64
import csv
import json
import pathlib
import struct
import sys
import zlib

folder = pathlib.Path(sys.argv[1])
run = json.loads((folder / "run.json").read_text())


def zigzag_leb128(data):
    """Signed numbers of up to nine bytes, as HdrHistogram's V2 encoding writes them."""
    at = 0
    while at < len(data):
        value, shift = 0, 0
        for index in range(9):
            byte = data[at]
            at += 1
            value |= byte << shift if index == 8 else (byte & 0x7F) << shift
            shift += 7
            if index == 8 or byte < 0x80:
                break
        yield (value >> 1) ^ -(value & 1)


def decode(text):
    """Counts by value of one compressed histogram."""
    outer = base64.b64decode(text)
    cookie, length = struct.unpack(">ii", outer[:8])
    assert cookie & ~0xF0 == 0x1C849304, hex(cookie)
    body = zlib.decompress(outer[8:8 + length])
    cookie, payload, _, digits, lowest, _, _ = struct.unpack(">iiiiqqd", body[:40])
    assert cookie & ~0xF0 == 0x1C849303, hex(cookie)
    unit = max(0, lowest.bit_length() - 1)
    sub_bits = (2 * 10 ** digits - 1).bit_length()
    half = 1 << (sub_bits - 1)
    counts, index = {}, 0
    for number in zigzag_leb128(body[40:40 + payload]):
        if number < 0:
            index -= number
            continue
        if number:
            bucket, sub = (index >> (sub_bits - 1)) - 1, (index & (half - 1)) + half
            if bucket < 0:
                bucket, sub = 0, sub - half
            counts[sub << (bucket + unit)] = number
        index += 1
    return counts


total = {}
for line in (folder / "latency.hlog").read_text().splitlines():
    if line.startswith("Tag="):
        tag, _, _, _, histogram = line[4:].split(",")
        if tag not in ("late", "connect", "handshake") and "/" not in tag:
            for value, count in decode(histogram).items():
                total[value] = total.get(value, 0) + count

wanted, seen, p99 = 0.99 * sum(total.values()), 0, 0
for value in sorted(total):
    seen += total[value]
    if seen >= wanted:
        p99 = value
        break

with open(folder / "seconds.csv", newline="") as file:
    good = sum(int(row["good"]) for row in csv.DictReader(file) if row["phase"] == "measured")
with open(folder / "host.csv", newline="") as file:
    hosts = len([float(row["at_s"]) for row in csv.DictReader(file)])
exchanges = [json.loads(line) for line in (folder / "exchanges.jsonl").read_text().splitlines()]
print(json.dumps({"candidate": run["candidate"], "good": good, "histogramCount": sum(total.values()),
                  "p99Nanos": p99, "hostSamples": hosts, "exchanges": len(exchanges)}))
