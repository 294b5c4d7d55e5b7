/* reports.c - what the host should know, and getting it there in order. */
#include "outputs.h"
#include "uvrek/port.h"

#include <string.h>

#define BIT(report) ((uint8_t)(1u << (report)))
#define ROLLOVER    0x01u /* HID usage tables, page 0x07: ErrorRollOver */
#define BOOT_KEYS   6u

/* Take over one page of what is told; if it has changed, its report has to go out. */
static void take_page(struct uvk_reports *reports, void *old, const void *now, uint8_t size,
                      enum uvk_report report)
{
    if (memcmp(old, now, size) != 0) {
        memcpy(old, now, size);
        uvk_reports_mark(reports, report);
    }
}

UVK_ONE_COPY void uvk_reports_take(struct uvk_reports *reports, const struct uvk_told *told,
                                   bool release)
{
    struct uvk_told *old = &reports->told;

    reports->releases = release;
    take_page(reports, &old->keys, &told->keys, sizeof old->keys,
              reports->boot ? UVK_REPORT_BOOT : UVK_REPORT_KEYS);
#if UVK_USE_CONSUMER
    take_page(reports, old->consumer, told->consumer, sizeof old->consumer,
              UVK_REPORT_CONSUMER);
#endif
#if UVK_USE_SYSTEM
    take_page(reports, &old->system, &told->system, 1, UVK_REPORT_SYSTEM);
#endif
#if UVK_USE_MOUSE
    take_page(reports, &old->buttons, &told->buttons, 1, UVK_REPORT_MOUSE);
#endif
}

/* The keys move from one interface to the other; the old one must let them go. */
void uvk_reports_protocol(struct uvk_reports *reports, bool boot)
{
    if (reports->boot != boot) {
        reports->boot = boot;
        uvk_reports_mark(reports, UVK_REPORT_BOOT);
        uvk_reports_mark(reports, UVK_REPORT_KEYS);
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
        out[0] = reports->told.keys.mods;
        write_boot_keys(reports->told.keys.bitmap, &out[2]);
    }
    return 2 + BOOT_KEYS;
}

static uint8_t write_keys(const struct uvk_reports *reports, uint8_t *out)
{
    const uint8_t size =
        sizeof reports->told.keys; /* modifiers and keys, as the report has them */

    out[0] = UVK_REPORT_KEYS;
    if (reports->boot) {
        memset(&out[1], 0, size);
    } else {
        memcpy(&out[1], &reports->told.keys, size);
    }
    return (uint8_t)(1 + size);
}

uint8_t uvk_reports_write(const struct uvk_reports *reports, enum uvk_report report,
                          uint8_t out[UVK_REPORT_MAX])
{
    uint8_t size;

    switch (report) {
    case UVK_REPORT_BOOT:
        return write_boot(reports, out);
    case UVK_REPORT_KEYS:
        return write_keys(reports, out);
    case UVK_REPORT_CONSUMER:
        return uvk_media_write(&reports->told, out);
    case UVK_REPORT_SYSTEM:
        return uvk_system_write(&reports->told, out);
    case UVK_REPORT_MOUSE:
        size = uvk_mouse_write(reports, out);
        uvk_pointer_write(reports, &out[UVK_MOUSE_AT_X]);
        return size;
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
    if (report == UVK_REPORT_MOUSE) {
        uvk_mouse_sent(reports);
        uvk_pointer_sent(reports);
    }
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
