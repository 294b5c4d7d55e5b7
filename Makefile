# The short way to the presets of CMakePresets.json. `make help` lists what there is.
PREFIX ?= /usr/local

all: build/uvrek

build/build.ninja: CMakeLists.txt CMakePresets.json
	@tools/setup all
	@cmake --preset release -DCMAKE_INSTALL_PREFIX=$(PREFIX) >/dev/null

build/uvrek: FORCE build/build.ninja
	@cmake --build build -- --quiet

demo: build/uvrek
	@tools/demo

test: build/uvrek
	@tools/test

bench: build/uvrek
	@tools/measure

coverage: FORCE
	@tools/coverage

check: build/uvrek
	@tools/checks

faults: build/uvrek
	@tools/faults

fuzz: build/uvrek
	@tools/fuzz

cross-check: build/uvrek
	@tools/setup cross-check
	@tools/cross-check/run

linux-host: build/uvrek
	@tools/linux-host

install: build/uvrek
	@cmake -DCMAKE_INSTALL_PREFIX=$(PREFIX) build >/dev/null
	@cmake --install build --prefix $(PREFIX)

clean:
	rm -rf build build-asan build-coverage

help:
	@echo "make            build build/uvrek"
	@echo "make demo       the main job on the demo data, end to end"
	@echo "make test       all tests"
	@echo "make bench      figures, beside their budgets"
	@echo "make coverage   which lines the tests run"
	@echo "make check      formatting and static checks"
	@echo "make cross-check  the RP2040's firmware in an emulator that others wrote"
	@echo "make linux-host  a real Linux, in an emulated computer, as the keyboards' host"
	@echo "make faults     what \`keys\` and \`wires\` say of boards with faults, and learn from nothing"
	@echo "make fuzz       look for inputs that do harm, SECONDS_EACH=60"
	@echo "make install    into PREFIX (now $(PREFIX))"

FORCE:
.PHONY: all demo test bench coverage check cross-check faults fuzz install clean help FORCE
