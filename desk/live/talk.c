/* talk.c - requests to the live door of a keyboard, and its answers; docs/live.md has them. */
#include "live.h"

#include <string.h>

#define ANSWER_MS 1500u /* a chip that erases its memory does nothing else for 400 ms */
#define AT_EVENTS 4u

static bool fail(GError **error, const char *why)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s", why);
    return false;
}

static bool lost(GError **error, enum uvk_cable_result result)
{
    return fail(error, result == UVK_CABLE_LATE
                           ? "the keyboard does not answer"
                           : "the keyboard is gone: it was unplugged, or has restarted");
}

/* ---- events ------------------------------------------------------------------------------ */

static unsigned pair(const uint8_t *at)
{
    return at[0] | (unsigned)at[1] << 8;
}

static void take_event(struct uvk_live *live, unsigned number, const uint8_t *at)
{
    struct uvk_live_event *event = g_new0(struct uvk_live_event, 1);

    event->kind = (enum uvk_door_event)(at[0] & ~UVK_EVENT_ON);
    event->on = (at[0] & UVK_EVENT_ON) != 0;
    event->number = number & 0xFFFFu;
    event->key = at[1];
    event->sense = event->kind == UVK_EVENT_SWITCH ? at[4] : 0;
    event->before = event->kind != UVK_EVENT_DECISION && at[5] != 0;
    event->missed = event->kind == UVK_EVENT_CONTACT ? at[4] : 0;
    event->ms = (uint16_t)pair(at + 2);
    event->decision = (struct uvk_decision){.pressed = event->ms,
                                            .decided = event->ms,
                                            .action = (uvk_action)pair(at + 7),
                                            .key = at[1],
                                            .cause = at[5],
                                            .reason = at[4],
                                            .combo = at[6]};
    if (at[4] == UVK_WHY_DANCE || at[4] == UVK_WHY_DANCE_HELD) {
        event->decision.taps = at[5];
        event->decision.cause = UVK_NO_KEY;
    }
    g_queue_push_tail(live->events, event);
}

static void take_events(struct uvk_live *live, const uint8_t *report)
{
    for (unsigned i = 0; i < report[1] && i < UVK_EVENTS_A_REPORT; i++) {
        take_event(live, pair(report + 2) + i,
                   report + AT_EVENTS + (size_t)UVK_EVENT_BYTES * i);
    }
}

/* ---- reports ----------------------------------------------------------------------------- */

/* The next report. Whatever has another size is none of the door. */
static enum uvk_cable_result receive(struct uvk_live *live, uint8_t *report, unsigned ms)
{
    uint8_t packet[64];
    size_t size = sizeof packet;
    enum uvk_cable_result result =
        live->cable->receive(live->cable->self, UVK_LIVE_IN, packet, &size, ms);

    if (result == UVK_CABLE_DONE && size != UVK_DOOR_BYTES) {
        return UVK_CABLE_GONE;
    }
    memcpy(report, packet, UVK_DOOR_BYTES);
    return result;
}

bool listen(struct uvk_live *live, unsigned ms, GError **error)
{
    uint8_t report[UVK_DOOR_BYTES];
    enum uvk_cable_result result = receive(live, report, ms);

    if (result == UVK_CABLE_LATE) {
        return true;
    }
    if (result != UVK_CABLE_DONE) {
        return lost(error, result);
    }
    if (report[0] == 0) {
        take_events(live, report);
    }
    return true;
}

/* A program that was stopped in the middle has left answers there. A keyboard that has one to
 * give takes no request. */
#define DRAIN_MS   5u
#define DRAIN_MOST 64u

void drain(struct uvk_live *live)
{
    uint8_t report[UVK_DOOR_BYTES];

    for (unsigned i = 0; i < DRAIN_MOST && receive(live, report, DRAIN_MS) == UVK_CABLE_DONE;
         i++) {
    }
}

/* Numbers of requests go round, and leave out 0: that is the number of events. */
static uint8_t following(uint8_t number)
{
    return (uint8_t)(number == UINT8_MAX ? 1 : number + 1);
}

unsigned under_way(const struct uvk_live *live)
{
    unsigned count = 0;

    for (uint8_t number = live->heard; number != live->number; number = following(number)) {
        count++;
    }
    return count;
}

/* The answer to the oldest request under way; what was asked before, by whomever, is passed
 * over. Without it nothing is under way any more. */
static bool hear(struct uvk_live *live, uint8_t *report, GError **error)
{
    gint64 end = g_get_monotonic_time() + ANSWER_MS * (gint64)1000;
    enum uvk_cable_result result = UVK_CABLE_LATE;

    while (g_get_monotonic_time() < end) {
        result = receive(live, report, ANSWER_MS);
        if (result != UVK_CABLE_DONE) {
            break;
        }
        if (report[0] == following(live->heard)) {
            live->heard = report[0];
            return true;
        }
        if (report[0] == 0) {
            take_events(live, report);
        }
        result = UVK_CABLE_LATE;
    }
    live->heard = live->number;
    return lost(error, result);
}

static bool understand(uint8_t answer, GError **error)
{
    switch (answer) {
    case UVK_DOOR_DONE:
        return true;
    case UVK_DOOR_IS_CLOSED:
        return fail(error, "the keyboard's live door is closed; `uvrek live open` opens it");
    case UVK_DOOR_UNKNOWN:
        return fail(error,
                    "the keyboard does not know this request: its firmware is of another "
                    "version of uvrek; build and flash it again");
    case UVK_DOOR_OTHER_IMAGE:
        return fail(error, "the keyboard has another keymap built in than it had a moment ago");
    case UVK_DOOR_NO_ROOM:
        return fail(error, "the changes do not fit the keyboard's room");
    default:
        return fail(error, "the keyboard refuses the request");
    }
}

bool talk_on(struct uvk_live *live, enum uvk_door_request code, const uint8_t *content,
             size_t size, GError **error)
{
    uint8_t report[UVK_DOOR_BYTES] = {0};
    size_t length = sizeof report;
    enum uvk_cable_result result;

    live->asked = g_get_monotonic_time();
    live->number = following(live->number);
    report[0] = live->number;
    report[1] = (uint8_t)code;
    if (size > 0) {
        memcpy(report + 2, content, size);
    }
    result = live->cable->send(live->cable->self, UVK_LIVE_OUT, report, &length, ANSWER_MS);
    if (result != UVK_CABLE_DONE) {
        live->heard = live->number;
        return lost(error, result);
    }
    return true;
}

bool hear_next(struct uvk_live *live, uint8_t out[UVK_DOOR_CONTENT], GError **error)
{
    uint8_t report[UVK_DOOR_BYTES];

    if (!hear(live, report, error)) {
        return false;
    }
    if (out != NULL) {
        memcpy(out, report + 2, UVK_DOOR_CONTENT);
    }
    return understand(report[1], error);
}

bool hear_all(struct uvk_live *live, GError **error)
{
    bool good = true;

    while (under_way(live) > 0) {
        good = hear_next(live, NULL, good ? error : NULL) && good;
    }
    return good;
}

bool talk(struct uvk_live *live, enum uvk_door_request code, const uint8_t *content,
          size_t size, uint8_t out[UVK_DOOR_CONTENT], GError **error)
{
    return hear_all(live, error) && talk_on(live, code, content, size, error) &&
           hear_next(live, out, error);
}
