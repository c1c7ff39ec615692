#!/usr/bin/env bash
# Python packages into the environment by uv, in a tenth of pip's time; by pip where there is no uv for this machine, or it does not know its index.
# usage: install.sh ARGUMENT...   as `pip install` takes them
bin=.venv/bin
[ -x $bin/uv ] && $bin/uv pip install --python $bin/python --compile-bytecode "$@" && exit
exec $bin/pip install "$@"
