// pio.mjs - the emulator's PIO in the chip's own time: it runs a block from a timer of the computer,
// which says nothing about when a pin changes.
const NS_A_CYCLE = 8;

export function driveInTime(pio, clock) {
  const alarms = pio.machines.map((machine) => {
    const next = () => {
      if (!machine.enabled || machine.waiting) return;
      const before = machine.cycles;
      machine.step();
      pio.checkChangedPins();
      alarm.schedule((machine.cycles - before) * NS_A_CYCLE * dividerOf(machine));
    };
    const alarm = clock.createAlarm(next);
    const write = machine.writeFIFO.bind(machine);
    machine.writeFIFO = (value) => { // it may have waited for that
      const waited = machine.waiting;
      write(value);
      if (waited && !machine.waiting) alarm.schedule(NS_A_CYCLE * dividerOf(machine));
    };
    return alarm;
  });
  const write = pio.writeUint32.bind(pio);
  pio.run = () => {};
  pio.writeUint32 = (offset, value) => {
    const ran = pio.machines.map((machine) => machine.enabled);
    write(offset, value);
    pio.checkChangedPins();
    pio.machines.forEach((machine, i) => {
      if (machine.enabled && !ran[i]) alarms[i].schedule(NS_A_CYCLE * dividerOf(machine));
    });
  };
}

const dividerOf = (machine) => (machine.clockDivInt || 65536) + machine.clockDivFrac / 256;
