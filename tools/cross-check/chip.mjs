// chip.mjs - an RP2040 in rp2040js, with what that emulator leaves to its user: a ROM, the flash's
// contents, resets that keep RAM, waiting for interrupts that are never taken.
import { RP2040, GPIOPinState } from 'rp2040js';
import { DRIVES } from './net.mjs';
import { driveInTime } from './pio.mjs';

const ROM_TO_USB = 0x200;
const ROM_ERASE = 0x208, ROM_PROGRAM = 0x20c, ROM_NOTHING = 0x210;
const FLASH_SIZE = 2 << 20;
const STAGE2_RUNS = 0x20041f00;
const SUSPENDED = 1 << 4, RESUME = 1 << 11;
const NS_A_CYCLE = 8;

// Its doors are those of the chip's ROM (datasheet 2.8): a table of functions, and how to look one up.
function makeRom() {
  const rom = new DataView(new ArrayBuffer(16384));
  const lookup = [0x8802, 0x2a00, 0xd005, 0x428a, 0xd001, 0x3004, 0xe7f8, 0x8840, 0x4770, 0x2000, 0x4770];
  rom.setUint16(0x14, 0x140, true);
  rom.setUint16(0x18, 0x101, true);
  lookup.forEach((code, i) => rom.setUint16(0x100 + 2 * i, code, true));
  const doors = { UB: ROM_TO_USB, RE: ROM_ERASE, RP: ROM_PROGRAM, IF: ROM_NOTHING, EX: ROM_NOTHING,
    FC: ROM_NOTHING, CX: ROM_NOTHING };
  Object.entries(doors).forEach(([name, at], i) => {
    rom.setUint16(0x140 + 4 * i, name.charCodeAt(0) | name.charCodeAt(1) << 8, true);
    rom.setUint16(0x142 + 4 * i, at + 1, true);
    rom.setUint16(at, 0x4770, true); // bx lr: what it does is done by whoever sees it come here
  });
  rom.setUint16(ROM_TO_USB, 0xe7fe, true);
  return new Uint32Array(rom.buffer);
}

function checksum(bytes) {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte << 24;
    for (let bit = 0; bit < 8; bit++) crc = crc & 0x80000000 ? crc << 1 ^ 0x04c11db7 : crc << 1;
  }
  return crc >>> 0;
}

export class Chip {
  constructor(code) {
    this.code = code;
    this.ram = new Uint8Array(264 * 1024).fill(0xc5);
    this.base = 0; // nanoseconds before the last reset
    this.sent = []; // packets of each endpoint that wait for the host
    this.stopped = null;
    this.onPin = () => {};
    this.boot(0);
  }

  boot(reason) {
    const mcu = new RP2040();
    const silent = () => {};
    mcu.logger = { debug: silent, info: silent, warn: silent, error: silent };
    mcu.loadBootrom(makeRom());
    mcu.flash.fill(0xff);
    mcu.flash.set(this.flash ?? this.code);
    mcu.sram.set(this.ram);
    this.mcu = mcu;
    this.clock = mcu.clock;
    this.usb = mcu.usbCtrl;
    this.sent = Array.from({ length: 16 }, () => []);
    this.armed = false; // endpoint 0 waits for a packet
    const watchdog = mcu.peripherals[0x40058];
    watchdog.reason = reason;
    watchdog.onWatchdogTrigger = () => { this.resetReason = watchdog.reason; };
    this.resetReason = 0;
    this.neverTakeInterrupts();
    mcu.pio.forEach((pio) => driveInTime(pio, mcu.clock));
    this.usb.onEndpointWrite = (endpoint, bytes) => this.sent[endpoint].push(bytes);
    this.usb.onEndpointRead = (endpoint) => { this.armed ||= endpoint === 0; };
    mcu.gpio.forEach((pin, index) => pin.addListener(() => this.onPin(index)));
    const stage2 = this.code.slice(0, 256);
    if (checksum(stage2.slice(0, 252)) !== new DataView(stage2.buffer).getUint32(252, true)) {
      this.stopped = 'bootloader';
      return;
    }
    mcu.sram.set(stage2, STAGE2_RUNS - 0x20000000);
    mcu.core.PC = STAGE2_RUNS;
  }

  // The firmware masks interrupts for good: a pending one wakes from WFI and is not taken. The
  // emulator takes it all the same, and sleeps on if it was pending before.
  neverTakeInterrupts() {
    const core = this.mcu.core;
    core.checkForInterrupts = () => {
      const woken = (core.pendingInterrupts & core.enabledInterrupts) !== 0;
      if (woken && !core.PM) throw new Error('an interrupt is let through');
      return woken;
    };
  }

  now() {
    return this.base + this.clock.nanos;
  }

  driveOf(index) {
    switch (this.mcu.gpio[index].value) {
      case GPIOPinState.Low: return DRIVES.LOW;
      case GPIOPinState.High: return DRIVES.HIGH;
      case GPIOPinState.InputPullUp: return DRIVES.PULL_UP;
      case GPIOPinState.InputPullDown: return DRIVES.PULL_DOWN;
      default: return DRIVES.FLOATING;
    }
  }

  restart() {
    this.base += this.clock.nanos;
    this.ram = this.mcu.sram.slice();
    this.flash = this.mcu.flash.slice(0, FLASH_SIZE);
    this.boot(this.resetReason);
    for (let index = 0; index < 30; index++) this.onPin(index);
  }

  // One instruction, or to the next event of the emulator, but not beyond UNTIL.
  step(until) {
    const core = this.mcu.core;
    if (this.resetReason !== 0) {
      this.restart();
    } else if (core.waiting && core.checkForInterrupts()) {
      core.waiting = false;
    } else if (core.waiting) {
      const next = this.clock.nanosToNextAlarm || Infinity;
      this.clock.tick(Math.max(1, Math.min(next, until - this.now())));
    } else {
      this.clock.tick(core.executeInstruction() * NS_A_CYCLE);
      if (core.PC === ROM_TO_USB) this.stopped = 'bootloader';
      else if (core.PC === ROM_ERASE || core.PC === ROM_PROGRAM) this.changeFlash(core);
    }
  }

  // The functions of the chip's ROM that change its flash (datasheet 2.8.3.1.3).
  changeFlash(core) {
    const [at, second, count] = core.registers;
    if (core.PC === ROM_ERASE) {
      this.mcu.flash.fill(0xff, at, at + second);
      return;
    }
    for (let i = 0; i < count; i++) this.mcu.flash[at + i] &= this.mcu.readUint8(second + i);
  }

  attached() {
    return (this.usb.mainCtrl & 1) !== 0 && (this.usb.sieCtrl & 1 << 16) !== 0;
  }

  stalls() {
    const control = this.mcu.usbDPRAMView.getUint32(0x80, true);
    return (control & 1 << 11) !== 0 && (this.usb.epStallArm & 1) !== 0;
  }

  suspend(suspended) {
    this.usb.sieStatus |= suspended ? SUSPENDED : RESUME;
    this.usb.sieStatusUpdated();
  }
}
