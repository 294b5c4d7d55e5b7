// net.mjs - pins, switches and wires, as bench/electric.c has them: ghosts, diodes, capacitance.
const FLOATING = 0, PULL_UP = 1, PULL_DOWN = 2, LOW = 3, HIGH = 4;
export const DRIVES = { FLOATING, PULL_UP, PULL_DOWN, LOW, HIGH };

export class Net {
  // levelChanged(pin, high, ns): a pin will be read so, that long from now.
  constructor(count, wires, levelChanged) {
    this.pins = Array.from({ length: count }, () => ({ drive: FLOATING, level: undefined, joined: 1 }));
    this.contacts = [];
    this.levelChanged = levelChanged;
    const { picofarads, driver, pull, low, high } = wires;
    const charging = (ohms, permille) => ohms * picofarads / 1000 * Math.log(1000 / permille);
    this.driven = [charging(driver, low), charging(driver, 1000 - high)];
    this.pulled = [charging(pull, low), charging(pull, 1000 - high)];
  }

  add(a, b, diode) {
    this.contacts.push({ a, b, diode, closed: false });
  }

  contact(index, closed) {
    const contact = this.contacts[index];
    if (contact.closed !== closed) {
      contact.closed = closed;
      this.pins[contact.a].joined += closed ? 1 : -1;
      this.pins[contact.b].joined += closed ? 1 : -1;
      this.solve();
    }
  }

  drive(pin, drive) {
    if (this.pins[pin].drive !== drive) {
      this.pins[pin].drive = drive;
      this.solve();
    }
  }

  // Current can flow from FROM to TO: TO's low pulls FROM low, FROM's high pulls TO high.
  static conduct(from, to) {
    const before = [from.low, from.pulledLow, to.high, to.pulledHigh].join();
    from.low ||= to.low;
    from.pulledLow ||= to.pulledLow;
    to.high ||= from.high;
    to.pulledHigh ||= from.pulledHigh;
    return before !== [from.low, from.pulledLow, to.high, to.pulledHigh].join();
  }

  spread() {
    let changed = false;
    for (const { a, b, diode, closed } of this.contacts) {
      if (!closed) continue;
      if (diode !== 2) changed = Net.conduct(this.pins[a], this.pins[b]) || changed;
      if (diode !== 1) changed = Net.conduct(this.pins[b], this.pins[a]) || changed;
    }
    return changed;
  }

  solve() {
    for (const pin of this.pins) {
      pin.low = pin.drive === LOW;
      pin.high = pin.drive === HIGH;
      pin.pulledLow = pin.drive === PULL_DOWN;
      pin.pulledHigh = pin.drive === PULL_UP;
    }
    while (this.spread());
    this.pins.forEach((pin, index) => {
      const driven = pin.low || pin.high;
      if (!driven && !pin.pulledLow && !pin.pulledHigh) return;
      const level = driven ? !pin.low : !pin.pulledLow;
      if (level !== pin.level) {
        pin.level = level;
        this.levelChanged(index, level,
          driven ? pin.joined * this.driven[+level] : this.pulled[+level]);
      }
    });
  }
}
