#!/usr/bin/env node
// chipsim.mjs - stands in for uvrek-chipsim-arm: the same lines of text, see
// bench/chipsim/chipsim.h, with rp2040js instead of our own peripherals.
//
//   UVREK_SIMULATOR=tools/cross-check/chipsim.mjs uvrek play --chip FILE
//
// With UVREK_UF2=FILE.uf2 the chip starts from that file, which must hold what it is told to load.
import { readFileSync, readSync, writeSync } from 'node:fs';
import { Chip } from './chip.mjs';
import { Light } from './lights.mjs';
import { DRIVES, Net } from './net.mjs';

const FRAME = 1_000_000, STEP = 50_000, TIMEOUT = 500_000_000, EP0 = 8, SLEEP_WITHIN = 2_000_000;

const state = { wires: {}, pins: [], resistors: new Set(), changes: [], polled: new Set(),
  lights: new Map() };
let chip, net;

const say = (text) => writeSync(1, text + '\n');
const bytesOf = (hex = '') => Uint8Array.from(Buffer.from(hex, 'hex'));
const hexOf = (bytes) => Buffer.from(bytes).toString('hex');
const microseconds = () => Math.floor(chip.now() / 1000);

// ---- time -----------------------------------------------------------------------------------

function changeContacts() {
  while (state.changes.length > 0 && state.changes[0].at <= chip.now()) {
    const [first, second] = state.changes;
    const alone = second === undefined || second.at !== first.at;
    if (!alone && !chip.mcu.core.waiting && chip.now() < first.at + SLEEP_WITHIN) return;
    state.changes.shift();
    net.contact(first.index, first.closed);
  }
}

function run(until) {
  while (chip.now() < until && !chip.stopped) {
    changeContacts();
    const next = state.changes.length > 0 && state.changes[0].at > chip.now() ? state.changes[0].at : until;
    chip.step(Math.min(next, until));
    if (chip.stopped) say(`${chip.stopped} ${microseconds()}`);
  }
  if (chip.stopped && chip.now() < until) chip.base += until - chip.now();
}

// ---- the board --------------------------------------------------------------------------------

function makeNet() {
  const count = state.pins.length;
  net = new Net(count + 2, state.wires, (index, high, delay) => {
    if (index >= count || chip === undefined) return;
    const target = chip.mcu.gpio[state.pins[index]];
    const alarm = chip.clock.createAlarm(() => {
      if (net.pins[index].level === high) target.setInputValue(high);
    });
    alarm.schedule(delay);
  });
  net.drive(count, DRIVES.LOW);
  net.drive(count + 1, DRIVES.HIGH);
}

function followPin(pin) {
  state.lights.get(pin)?.set(chip.now(), isHigh(pin));
  const index = state.pins.indexOf(pin);
  if (index < 0) return;
  const drive = chip.driveOf(pin);
  net.drive(index, drive === DRIVES.FLOATING && state.resistors.has(index) ? DRIVES.PULL_DOWN : drive);
}

const isHigh = (pin) => chip.driveOf(pin) === DRIVES.HIGH;

function lightOn(name, say) {
  const light = state.lights.get(+name.slice(2));
  return light === undefined ? 'error that pin is not watched' : `ok ${say(light)}`;
}

// ---- the host -----------------------------------------------------------------------------------

function waitFor(what) {
  const end = chip.now() + TIMEOUT;
  while (chip.now() < end && !chip.stopped) {
    const found = what();
    if (found !== undefined) return found;
    run(chip.now() + STEP);
  }
  return 'timeout';
}

const fetchPacket = () => waitFor(() => (chip.stalls() ? 'stall' : chip.sent[0].shift()));

function givePacket(bytes) {
  const result = waitFor(() => (chip.stalls() ? 'stall' : chip.armed || undefined));
  if (result === true) {
    chip.armed = false;
    chip.usb.endpointReadDone(0, bytes);
  }
  return result;
}

function readData(wanted) {
  const data = [];
  for (;;) {
    const packet = fetchPacket();
    if (typeof packet === 'string') return packet;
    data.push(...packet);
    if (packet.length < EP0 || data.length >= wanted) return data;
  }
}

function control(setup, data) {
  const wanted = setup[6] | setup[7] << 8;
  const reads = (setup[0] & 0x80) !== 0 && wanted > 0;
  let result = [];
  chip.sent[0].length = 0;
  chip.armed = false;
  chip.usb.epStallArm = 0;
  chip.usb.sendSetupPacket(setup);
  run(chip.now() + STEP);
  if (reads) result = readData(wanted);
  else if (wanted > 0) {
    const given = givePacket(data);
    if (typeof given === 'string') return given;
  }
  if (typeof result === 'string') return result;
  const last = reads ? givePacket(new Uint8Array(0)) : fetchPacket();
  run(chip.now() + STEP);
  return typeof last === 'string' ? last : hexOf(result);
}

function watchBus() {
  if (chip.attached() === state.attached) return;
  state.attached = chip.attached();
  if (!state.attached) state.polled.clear();
  say(`${state.attached ? 'attached' : 'detached'} ${microseconds()}`);
}

function poll() {
  for (const endpoint of state.polled) {
    const packet = chip.sent[endpoint].shift();
    if (packet !== undefined) say(`report ${microseconds()} ${endpoint} ${hexOf(packet)}`);
  }
}

// ---- symbols ------------------------------------------------------------------------------------

function symbolIn(path, name) {
  const elf = readFileSync(path);
  const at = elf.readUInt32LE(32), size = elf.readUInt16LE(46), count = elf.readUInt16LE(48);
  const section = (i) => ({ type: elf.readUInt32LE(at + i * size + 4), offset: elf.readUInt32LE(at + i * size + 16),
    length: elf.readUInt32LE(at + i * size + 20), link: elf.readUInt32LE(at + i * size + 24) });
  for (let i = 0; i < count; i++) {
    const table = section(i);
    if (table.type !== 2) continue;
    const names = section(table.link).offset;
    for (let entry = table.offset; entry < table.offset + table.length; entry += 16) {
      const start = names + elf.readUInt32LE(entry);
      if (elf.toString('latin1', start, elf.indexOf(0, start)) === name) return elf.readUInt32LE(entry + 4);
    }
  }
  return 0;
}

// ---- UF2 ------------------------------------------------------------------------------------------

function readUf2(path) {
  const file = readFileSync(path);
  const code = [];
  for (let block = 0; block < file.length; block += 512) {
    const size = file.readUInt32LE(block + 16);
    if (file.readUInt32LE(block + 12) !== 0x10000000 + code.length) throw new Error('a gap in the UF2 file');
    code.push(...file.subarray(block + 32, block + 32 + size));
  }
  return Uint8Array.from(code);
}

function codeFor(told) {
  if (process.env.UVREK_UF2 === undefined) return told;
  const code = readUf2(process.env.UVREK_UF2);
  if (hexOf(code.subarray(0, told.length)) !== hexOf(told)) throw new Error('the UF2 file is another firmware');
  return code;
}

// ---- commands -------------------------------------------------------------------------------------

const commands = {
  wires: ([picofarads, driver, pull, low, high]) => {
    state.wires = { picofarads: +picofarads, driver: +driver, pull: +pull, low: +low, high: +high };
  },
  pins: (names) => {
    state.pins = names.map((name) => +name.slice(2));
    makeNet();
  },
  resistor: ([index]) => { state.resistors.add(+index); },
  switch: ([a, b, diode]) => net.add(+a, +b, +diode),
  seed: () => {},
  load: ([hex]) => { state.code = codeFor(bytesOf(hex)); },
  symbols: ([hex]) => { state.symbols = Buffer.from(hex, 'hex').toString(); },
  start: () => {
    chip = new Chip(state.code);
    chip.onPin = followPin;
    for (const pin of net.pins) pin.level = undefined;
    for (const pin of [...state.pins, ...state.lights.keys()]) followPin(pin);
  },
  button: () => 'error the emulator has no reset button',
  change: ([at, index, closed]) => {
    state.changes.push({ at: +at, index: +index, closed: closed === '1' });
    state.changes.sort((one, two) => one.at - two.at);
  },
  poll: ([endpoint]) => { state.polled.add(+endpoint); },
  run: ([until]) => {
    const end = +until * 1000;
    while (chip.now() < end) {
      const next = (Math.floor(chip.now() / FRAME) + 1) * FRAME;
      run(Math.min(next, end));
      if (next <= end && !chip.stopped) {
        watchBus();
        poll();
      }
    }
    return `ok ${microseconds()}`;
  },
  'reset-bus': () => chip.usb.resetDevice(),
  setup: ([setup, data]) => `ok ${control(bytesOf(setup), bytesOf(data))}`,
  attached: () => `ok ${+chip.attached()}`,
  peek: ([name, count]) => {
    const at = symbolIn(state.symbols, name) - 0x20000000;
    return at < 0 ? 'error no such symbol' : `ok ${hexOf(chip.mcu.sram.subarray(at, at + +count))}`;
  },
  suspend: () => chip.suspend(true),
  resume: () => chip.suspend(false),
  measure: () => 'ok -1',
  watch: ([name]) => {
    const pin = +name.slice(2);
    if (!state.lights.has(pin)) state.lights.set(pin, new Light());
  },
  lit: ([name]) => lightOn(name, (light) => light.share(chip.now())),
  strip: ([name]) => lightOn(name, (light) => light.strip(chip.now())),
};

function answer(line) {
  const [name, ...words] = line.split(' ').filter((word) => word !== '');
  if (commands[name] === undefined) return 'error unknown command';
  const said = commands[name](words);
  return typeof said === 'string' ? said : 'ok';
}

// Lines, one at a time: an answer may be waited for before the next one comes.
let heard = '';
const chunk = Buffer.alloc(1 << 16);
for (;;) {
  const end = heard.indexOf('\n');
  if (end >= 0) {
    const line = heard.slice(0, end);
    heard = heard.slice(end + 1);
    if (line === 'quit') break;
    try {
      say(answer(line));
    } catch (trouble) {
      say(`crashed ${chip !== undefined ? microseconds() : 0} ${trouble.message}`);
      say('error');
    }
    continue;
  }
  const count = readSync(0, chunk);
  if (count === 0) break;
  heard += chunk.toString('latin1', 0, count);
}
