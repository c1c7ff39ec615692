#!/usr/bin/env bash
# A step of setting up: says what it was and how long it took; what it prints itself is shown where it fails.
# usage: step.sh WHAT COMMAND...
what=$1 began=$SECONDS said=$(mktemp)
shift
trap 'rm -f "$said"' EXIT
if "$@" >"$said" 2>&1; then
  printf '%4d s  %s\n' $((SECONDS - began)) "$what"
else
  status=$?
  cat "$said" >&2
  printf '%4d s  %s: failed\n' $((SECONDS - began)) "$what" >&2
  exit $status
fi
