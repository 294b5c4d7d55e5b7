/* eeprom.c - the EEPROM (section 5.3), strict: it takes its time, it is not asked meanwhile, a
 * byte is written once after it was erased, and a power cut leaves anything where it was at
 * work. */
#include "avr.h"

#include <sim_io.h>
#include <string.h>

#define EECR  0x3Fu
#define EEDR  0x40u
#define EEARL 0x41u
#define EEARH 0x42u

#define EERE       0x01u
#define EEPE       0x02u
#define EEMPE      0x04u
#define MODE       0x30u
#define ERASE_ONLY 0x10u
#define WRITE_ONLY 0x20u

#define BOTH_NS 3400000u /* table 5-1 */
#define ONE_NS  1800000u
#define WINDOW  4u /* cycles from EEMPE to EEPE */
#define ERASED  0xFFu

static bool is_busy(const struct sim *sim)
{
    return chip_ns(sim) < sim->chip->eeprom.busy_until;
}

static void complain(struct sim *sim, const char *why)
{
    sim_stop(sim, chip_ns(sim), "crashed", why);
}

static void program(struct sim *sim, uint8_t control)
{
    struct eeprom *eeprom = &sim->chip->eeprom;
    const uint8_t *data = sim->chip->avr->data;
    unsigned at = (data[EEARL] | (unsigned)data[EEARH] << 8) % EEPROM_SIZE;
    uint8_t mode = control & MODE;
    uint8_t before = mode == WRITE_ONLY ? eeprom->bytes[at] : ERASED;

    if (sim->chip->avr->cycle > eeprom->armed + WINDOW) {
        return; /* nothing happens (5.3.2) */
    }
    if (is_busy(sim)) {
        complain(sim, "the EEPROM is written while it is at work");
    } else if (mode == WRITE_ONLY && before != ERASED) {
        complain(sim, "a byte of the EEPROM is written that is not erased");
    } else {
        eeprom->bytes[at] =
            mode == ERASE_ONLY ? (uint8_t)ERASED : (uint8_t)(before & data[EEDR]);
        eeprom->at = at;
        eeprom->wear[at] += mode != WRITE_ONLY;
        eeprom->busy_until = chip_ns(sim) + (mode == 0 ? BOTH_NS : ONE_NS);
    }
}

static void write_control(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    struct sim *sim = param;
    struct eeprom *eeprom = &sim->chip->eeprom;

    avr->data[address] = value & MODE;
    if ((value & EEPE) != 0) {
        program(sim, value);
    } else if ((value & EEMPE) != 0) {
        eeprom->armed = avr->cycle;
        avr->data[address] |= EEMPE;
    }
    if ((value & EERE) != 0) {
        unsigned at = (avr->data[EEARL] | (unsigned)avr->data[EEARH] << 8) % EEPROM_SIZE;
        if (is_busy(sim)) {
            complain(sim, "the EEPROM is read while it is at work");
        }
        avr->data[EEDR] = eeprom->bytes[at];
    }
}

static uint8_t read_control(avr_t *avr, avr_io_addr_t address, void *param)
{
    const struct sim *sim = param;

    return (uint8_t)((avr->data[address] & (uint8_t)~EEPE) | (is_busy(sim) ? EEPE : 0u));
}

void eeprom_power_cut(struct sim *sim)
{
    struct eeprom *eeprom = &sim->chip->eeprom;

    if (is_busy(sim)) {
        eeprom->bytes[eeprom->at] = (uint8_t)(eeprom->bytes[eeprom->at] ^ 0x5Cu);
    }
    eeprom->busy_until = 0;
}

void eeprom_attach(struct sim *sim)
{
    avr_t *avr = sim->chip->avr;

    avr->io[AVR_DATA_TO_IO(EECR)].r.c = read_control;
    avr->io[AVR_DATA_TO_IO(EECR)].r.param = sim;
    avr->io[AVR_DATA_TO_IO(EECR)].w.c = write_control;
    avr->io[AVR_DATA_TO_IO(EECR)].w.param = sim;
}

uint8_t *chip_memory(struct sim *sim, size_t *size)
{
    *size = EEPROM_SIZE;
    return sim->chip->eeprom.bytes;
}

void chip_memory_changed(struct sim *sim)
{
    (void)sim;
}
