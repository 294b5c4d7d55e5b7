/* reports.c - what the host should know, and getting it there in order. */
#include "parts.h"
#ifdef __AVR__
#pragma GCC optimize("O2") /* part of every pass: speed is worth the few bytes */
#endif
#include "uvrek/port.h"

#include <string.h>

#define BIT(report) ((uint8_t)(1u << (report)))
#define ROLLOVER    0x01u /* HID usage tables, page 0x07: ErrorRollOver */
#define BOOT_KEYS   6u

static void mark(struct uvk_reports *reports, enum uvk_report report)
{
    reports->dirty = (uint8_t)(reports->dirty | BIT(report));
}

static void set_usage(uint8_t *bitmap, uint8_t usage)
{
    bitmap[usage >> 3] |= uvk_bit(usage);
}

/* What everything that is held adds up to. */
struct sum {
    uint8_t mods;
    uint8_t bitmap[UVK_BITMAP_BYTES];
#if UVK_USE_CONSUMER
    uint16_t consumer[UVK_CONSUMER_SLOTS]; /* the first four, in the order of pressing */
    uint8_t consumers;
#endif
#if UVK_USE_SYSTEM
    uint8_t system;
#endif
#if UVK_USE_MOUSE
    uint8_t buttons;
#endif
#if UVK_USE_POINTER
    uint8_t point, wheel, pace;
#endif
};

#if UVK_USE_SYSTEM || UVK_USE_MOUSE
/* Bit n-1 for value n; of system values 0x81..0x84 only the low three bits count. */
static uint8_t value_bit(uvk_action action)
{
    return (uint8_t)(1u << ((uvk_action_what(action) - 1u) & 7u));
}
#endif

static void add_device(struct sum *sum, uvk_action action)
{
    (void)sum;
    switch (uvk_action_how(action)) {
#if UVK_USE_SYSTEM
    case UVK_DEVICE_SYSTEM:
        sum->system |= value_bit(action);
        break;
#endif
#if UVK_USE_MOUSE
    case UVK_DEVICE_CLICK:
        sum->buttons |= value_bit(action);
        break;
#endif
#if UVK_USE_POINTER
    case UVK_DEVICE_POINT:
        sum->point |= (uint8_t)(1u << uvk_action_what(action));
        break;
    case UVK_DEVICE_WHEEL:
        sum->wheel |= (uint8_t)(1u << uvk_action_what(action));
        break;
    case UVK_DEVICE_PACE:
        sum->pace |= (uint8_t)(1u << uvk_action_what(action));
        break;
#endif
    default:
        break;
    }
}

#if UVK_USE_CONSUMER
/* Two keys with the same usage are one. */
static void add_consumer(struct sum *sum, uint16_t usage)
{
    for (uint8_t i = 0; i < sum->consumers; i++) {
        if (sum->consumer[i] == usage) {
            return;
        }
    }
    if (sum->consumers < UVK_CONSUMER_SLOTS) {
        sum->consumer[sum->consumers++] = usage;
    }
}
#endif

static void add_hold(struct sum *sum, const struct uvk_hold *hold)
{
    uvk_action action = hold->action;

    if (hold->flags & UVK_HOLD_YIELDS) {
        return;
    }
    sum->mods |= hold->mods;
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        if (uvk_action_what(action) >= UVK_USAGE_FIRST) {
            set_usage(sum->bitmap, uvk_action_what(action));
        }
        break;
#if UVK_USE_CONSUMER
    case UVK_CONSUMER:
        add_consumer(sum, uvk_action_value(action));
        break;
#endif
    case UVK_DEVICE:
        add_device(sum, action);
        break;
    default:
        break;
    }
}

/* Take over one part of the sum; if it has changed, its report has to go out. */
static void take_part(struct uvk_reports *reports, void *old, const void *now, uint8_t size,
                      enum uvk_report report)
{
    if (memcmp(old, now, size) != 0) {
        memcpy(old, now, size);
        mark(reports, report);
    }
}

void uvk_reports_update(struct uvk_engine *engine, bool release)
{
    struct uvk_reports *reports = &engine->reports;
    const struct uvk_holds *holds = &engine->holds;
    enum uvk_report keys = reports->boot ? UVK_REPORT_BOOT : UVK_REPORT_KEYS;
    struct sum sum;

    memset(&sum, 0, sizeof sum);
    for (uint8_t i = 0; i < holds->count; i++) {
        add_hold(&sum, &holds->list[i]);
    }
#if UVK_USE_STICKY
    sum.mods = uvk_sticky_mods(engine, sum.mods);
#endif
#if UVK_USE_MACROS && UVK_USE_TYPE
    sum.mods = engine->macro.lifts ? engine->macro.typed : sum.mods;
#endif
#if UVK_USE_BLOCKS
    for (uint8_t i = 0; i < UVK_BITMAP_BYTES; i++) {
        sum.bitmap[i] &= (uint8_t)~engine->blocked[i];
    }
#endif
    reports->releases = release;
    take_part(reports, &reports->mods, &sum.mods, sizeof sum.mods, keys);
    take_part(reports, reports->bitmap, sum.bitmap, sizeof sum.bitmap, keys);
#if UVK_USE_CONSUMER
    take_part(reports, reports->consumer, sum.consumer, sizeof sum.consumer,
              UVK_REPORT_CONSUMER);
#endif
#if UVK_USE_SYSTEM
    take_part(reports, &reports->system, &sum.system, sizeof sum.system, UVK_REPORT_SYSTEM);
#endif
#if UVK_USE_MOUSE
    take_part(reports, &reports->buttons, &sum.buttons, sizeof sum.buttons, UVK_REPORT_MOUSE);
#endif
#if UVK_USE_POINTER
    uvk_pointer_held(engine, sum.point, sum.wheel, sum.pace);
#endif
}

#if UVK_USE_MOUSE
void uvk_reports_wheel(struct uvk_reports *reports, enum uvk_wheel direction)
{
    static const UVK_ROM int8_t steps[4][2] = {{1, 0}, {-1, 0}, {0, -1}, {0, 1}};

    reports->wheel = (int8_t)(reports->wheel + steps[direction][0]);
    reports->pan = (int8_t)(reports->pan + steps[direction][1]);
    mark(reports, UVK_REPORT_MOUSE);
}
#endif

#if UVK_USE_POINTER
/* The host that does not fetch loses movement, not keys. */
static int8_t add_bounded(int8_t sum, int8_t more)
{
    int16_t both = (int16_t)(sum + more);

    return both > 127 || both < -127 ? sum : (int8_t)both;
}

void uvk_reports_point(struct uvk_reports *reports, int8_t x, int8_t y)
{
    if (x != 0 || y != 0) {
        reports->x = add_bounded(reports->x, x);
        reports->y = add_bounded(reports->y, y);
        mark(reports, UVK_REPORT_MOUSE);
    }
}
#endif

/* The keys move from one interface to the other; the old one must let them go. */
void uvk_reports_protocol(struct uvk_reports *reports, bool boot)
{
    if (reports->boot != boot) {
        reports->boot = boot;
        mark(reports, UVK_REPORT_BOOT);
        mark(reports, UVK_REPORT_KEYS);
    }
}

/* Six keys in usage order; with more, all six say ErrorRollOver (HID 1.11, appendix C). */
static void write_boot_keys(const uint8_t *bitmap, uint8_t keys[BOOT_KEYS])
{
    uint8_t count = 0;

    for (uint8_t byte = 0; byte < UVK_BITMAP_BYTES; byte++) {
        uint8_t bits = bitmap[byte];
        for (uint8_t bit = 0; bits != 0; bit++, bits = (uint8_t)(bits >> 1)) {
            if (!(bits & 1u)) {
                continue;
            }
            if (count == BOOT_KEYS) {
                memset(keys, ROLLOVER, BOOT_KEYS);
                return;
            }
            keys[count++] = (uint8_t)(byte * 8u + bit);
        }
    }
}

static uint8_t write_boot(const struct uvk_reports *reports, uint8_t *out)
{
    memset(out, 0, 2 + BOOT_KEYS);
    if (reports->boot) {
        out[0] = reports->mods;
        write_boot_keys(reports->bitmap, &out[2]);
    }
    return 2 + BOOT_KEYS;
}

static uint8_t write_keys(const struct uvk_reports *reports, uint8_t *out)
{
    memset(out, 0, 2 + UVK_BITMAP_BYTES);
    out[0] = UVK_REPORT_KEYS;
    if (!reports->boot) {
        out[1] = reports->mods;
        memcpy(&out[2], reports->bitmap, UVK_BITMAP_BYTES);
    }
    return 2 + UVK_BITMAP_BYTES;
}

uint8_t uvk_reports_write(const struct uvk_reports *reports, enum uvk_report report,
                          uint8_t out[UVK_REPORT_MAX])
{
    switch (report) {
    case UVK_REPORT_BOOT:
        return write_boot(reports, out);
    case UVK_REPORT_KEYS:
        return write_keys(reports, out);
#if UVK_USE_CONSUMER
    case UVK_REPORT_CONSUMER:
        out[0] = UVK_REPORT_CONSUMER;
        for (uint8_t i = 0; i < UVK_CONSUMER_SLOTS; i++) {
            out[1 + 2 * i] = (uint8_t)(reports->consumer[i] & 0xFFu);
            out[2 + 2 * i] = (uint8_t)(reports->consumer[i] >> 8);
        }
        return 1 + 2 * UVK_CONSUMER_SLOTS;
#endif
#if UVK_USE_SYSTEM
    case UVK_REPORT_SYSTEM:
        out[0] = UVK_REPORT_SYSTEM;
        out[1] = reports->system;
        return 2;
#endif
#if UVK_USE_MOUSE
    case UVK_REPORT_MOUSE:
        out[0] = UVK_REPORT_MOUSE;
        out[1] = reports->buttons;
#if UVK_USE_POINTER
        out[2] = (uint8_t)reports->x;
        out[3] = (uint8_t)reports->y;
#else
        out[2] = 0;
        out[3] = 0;
#endif
        out[4] = (uint8_t)reports->wheel;
        out[5] = (uint8_t)reports->pan;
        return 6;
#endif
    default:
        return 0;
    }
}

static bool send_one(struct uvk_reports *reports, struct uvk_port *port, enum uvk_report report)
{
    uint8_t out[UVK_REPORT_MAX];
    uint8_t size;

    if (!(reports->dirty & BIT(report))) {
        return true;
    }
    size = uvk_reports_write(reports, report, out);
    if (size != 0 && !uvk_port_send(port, uvk_report_interface(report), out, size)) {
        return false;
    }
    reports->dirty &= (uint8_t)~BIT(report);
#if UVK_USE_MOUSE
    if (report == UVK_REPORT_MOUSE) {
        reports->wheel = 0;
        reports->pan = 0;
#if UVK_USE_POINTER
        reports->x = 0;
        reports->y = 0;
#endif
    }
#endif
    return true;
}

/* A press sends modifiers before what they modify; a release the other way round. */
bool uvk_reports_send(struct uvk_reports *reports, struct uvk_port *port)
{
    for (uint8_t i = 0; i < UVK_REPORTS && reports->dirty != 0; i++) {
        uint8_t report = reports->releases ? (uint8_t)(UVK_REPORTS - 1u - i) : i;
        if (!send_one(reports, port, (enum uvk_report)report)) {
            return false;
        }
    }
    return true;
}
