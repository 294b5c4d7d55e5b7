/* electric.c - solve the net whenever something in it changes. */
#include "uvrek/electric.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>

struct pin {
    enum uvk_drive drive;
    bool level, before; /* what it settles to, what it read when that changed */
    bool floats;
    uint64_t since;
    uint32_t delay;  /* ns until the level is there */
    unsigned joined; /* wires that hang on this one by closed contacts, itself included */
    /* while solving: who reaches this pin */
    bool low, high, pulled_low, pulled_high;
};

struct contact {
    unsigned a, b;
    enum uvk_diode diode;
    bool closed;
};

struct uvk_electric {
    struct pin *pins;
    unsigned pin_count;
    struct contact *contacts;
    unsigned contact_count;
    unsigned shorts;
    uint32_t noise;
    /* nanoseconds until a wire is read as low or high, driven and pulled */
    double driven_low, driven_high, pulled_low, pulled_high;
};

/* A wire charged through a resistor goes up to, or down to, PERMILLE of the supply in so many
 * nanoseconds. */
static double charging(unsigned ohms, unsigned picofarads, unsigned permille)
{
    return ohms * (picofarads / 1000.0) * log(1000.0 / permille);
}

static void set_times(struct uvk_electric *net, const struct uvk_levels *levels,
                      unsigned picofarads)
{
    unsigned to_high = 1000 - levels->high_permille;

    net->driven_low = charging(levels->driver_ohms, picofarads, levels->low_permille);
    net->driven_high = charging(levels->driver_ohms, picofarads, to_high);
    net->pulled_low = charging(levels->pull_ohms, picofarads, levels->low_permille);
    net->pulled_high = charging(levels->pull_ohms, picofarads, to_high);
}

struct uvk_electric *uvk_electric_new(unsigned pins, const struct uvk_levels *levels,
                                      unsigned picofarads, uint32_t seed)
{
    struct uvk_electric *net = calloc(1, sizeof *net);

    if (net == NULL) {
        return NULL;
    }
    net->pins = calloc(pins + 1u, sizeof *net->pins);
    net->pin_count = pins;
    net->noise = seed | 1u;
    set_times(net, levels, picofarads);
    if (net->pins == NULL) {
        free(net);
        return NULL;
    }
    for (unsigned i = 0; i < pins; i++) {
        net->pins[i].floats = true;
        net->pins[i].joined = 1;
    }
    return net;
}

void uvk_electric_free(struct uvk_electric *net)
{
    if (net != NULL) {
        free(net->pins);
        free(net->contacts);
        free(net);
    }
}

unsigned uvk_electric_add(struct uvk_electric *net, unsigned a, unsigned b,
                          enum uvk_diode diode)
{
    struct contact contact = {a, b, diode, false};
    struct contact *grown =
        realloc(net->contacts, (net->contact_count + 1u) * sizeof *net->contacts);

    if (grown == NULL) {
        abort(); /* a few hundred bytes: the machine is lost anyway */
    }
    net->contacts = grown;
    net->contacts[net->contact_count] = contact;
    return net->contact_count++;
}

/* Current can flow from FROM to TO: TO's low pulls FROM low, FROM's high pulls TO high.
 * True if something changed. */
static bool conduct(struct pin *from, struct pin *to)
{
    bool changed = (to->low && !from->low) || (to->pulled_low && !from->pulled_low) ||
                   (from->high && !to->high) || (from->pulled_high && !to->pulled_high);

    from->low |= to->low;
    from->pulled_low |= to->pulled_low;
    to->high |= from->high;
    to->pulled_high |= from->pulled_high;
    return changed;
}

/* One round over all closed contacts. */
static bool spread(struct uvk_electric *net)
{
    bool changed = false;

    for (unsigned i = 0; i < net->contact_count; i++) {
        const struct contact *contact = &net->contacts[i];
        struct pin *a = &net->pins[contact->a];
        struct pin *b = &net->pins[contact->b];
        if (!contact->closed) {
            continue;
        }
        if (contact->diode != UVK_B_TO_A) {
            changed |= conduct(a, b);
        }
        if (contact->diode != UVK_A_TO_B) {
            changed |= conduct(b, a);
        }
    }
    return changed;
}

static bool visible(const struct pin *pin, uint64_t now)
{
    return now >= pin->since + pin->delay ? pin->level : pin->before;
}

/* A driver charges all wires that hang on it; each wire has a pull of its own. */
static uint32_t delay_of(const struct uvk_electric *net, const struct pin *pin, bool driven,
                         bool level)
{
    return driven ? (uint32_t)(pin->joined * (level ? net->driven_high : net->driven_low))
                  : (uint32_t)(level ? net->pulled_high : net->pulled_low);
}

static void settle(struct uvk_electric *net, struct pin *pin, uint64_t now)
{
    bool driven = pin->low || pin->high;
    bool level = driven ? !pin->low : !pin->pulled_low;

    net->shorts += pin->low && pin->high;
    pin->floats = !driven && !pin->pulled_low && !pin->pulled_high;
    if (!pin->floats && level != pin->level) {
        pin->before = visible(pin, now);
        pin->level = level;
        pin->since = now;
        pin->delay = delay_of(net, pin, driven, level);
    }
}

static void solve(struct uvk_electric *net, uint64_t now)
{
    for (unsigned i = 0; i < net->pin_count; i++) {
        struct pin *pin = &net->pins[i];
        pin->low = pin->drive == UVK_DRIVE_LOW;
        pin->high = pin->drive == UVK_DRIVE_HIGH;
        pin->pulled_low = pin->drive == UVK_PULL_DOWN;
        pin->pulled_high = pin->drive == UVK_PULL_UP;
    }
    while (spread(net)) {
    }
    for (unsigned i = 0; i < net->pin_count; i++) {
        settle(net, &net->pins[i], now);
    }
}

void uvk_electric_contact(struct uvk_electric *net, unsigned index, bool closed, uint64_t now)
{
    struct contact *contact = &net->contacts[index];

    if (contact->closed != closed) {
        contact->closed = closed;
        net->pins[contact->a].joined += closed ? 1u : -1u;
        net->pins[contact->b].joined += closed ? 1u : -1u;
        solve(net, now);
    }
}

void uvk_electric_drive(struct uvk_electric *net, unsigned pin, enum uvk_drive drive,
                        uint64_t now)
{
    if (net->pins[pin].drive != drive) {
        net->pins[pin].drive = drive;
        solve(net, now);
    }
}

enum uvk_drive uvk_electric_drives(const struct uvk_electric *net, unsigned pin)
{
    return net->pins[pin].drive;
}

bool uvk_electric_read(struct uvk_electric *net, unsigned pin, uint64_t now)
{
    if (net->pins[pin].floats) {
        net->noise ^= net->noise << 13;
        net->noise ^= net->noise >> 17;
        net->noise ^= net->noise << 5;
        return net->noise & 1u;
    }
    return visible(&net->pins[pin], now);
}

unsigned uvk_electric_shorts(const struct uvk_electric *net)
{
    return net->shorts;
}
