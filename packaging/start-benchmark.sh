#!/usr/bin/env bash
# Time from the command to a window that shows a study, of several programs in turn: start-benchmark.sh STUDY TIMES PROGRAM...
# A PROGRAM is called with --study STUDY. The window carries the study's name once its stations are laid out. Needs Xvfb and xdotool.
set -euo pipefail
study=$1 times=$2
shift 2
name=$(sed -n 's/^name: *//p' "$study/study.yaml" | tr -d '"' | head -n 1)
export DISPLAY=:97
Xvfb :97 -screen 0 1400x900x24 >/dev/null 2>&1 &
server=$!
trap 'kill $server' EXIT
sleep 1
for ((i = 1; i <= times; i++)); do
  for program in "$@"; do
    begun=$(date +%s%N)
    $program --study "$study" >/dev/null 2>&1 &
    pid=$!
    until xdotool search --name "$name" >/dev/null 2>&1; do
      kill -0 $pid 2>/dev/null || { echo "$program ended"; exit 1; }
      sleep 0.05
    done
    ended=$(date +%s%N)
    printf '%s\t%d ms\n' "$program" $(((ended - begun) / 1000000))
    kill $pid
    wait $pid 2>/dev/null || true
  done
done
