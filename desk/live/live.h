/* live.h - the insides of a keyboard that is spoken with. */
#ifndef UVREK_LIVE_LIVE_H
#define UVREK_LIVE_LIVE_H

#include "uvrek/cable.h"
#include "uvrek/live.h"

struct uvk_live {
    struct uvk_cable *cable;
    char *name;
    uint8_t number; /* of the latest request */
    uint8_t heard;  /* of the latest one that was answered; behind it some may be under way */
    uint8_t *bytes; /* of the built-in image; NULL: not read yet */
    struct uvk_image built, present;
    struct uvk_changes changes;
    bool keeps;     /* presses reach nobody else while it hears of us */
    gint64 asked;   /* the latest request, as g_get_monotonic_time */
    GQueue *events; /* of struct uvk_live_event *, that have come */
};

/* talk.c: a request with SIZE bytes of CONTENT; the answer's into OUT, which may be NULL.
 * False: *ERROR. A refusal is UVK_NOT_DONE, but what does not fit is UVK_NOT_WELL. */
bool talk(struct uvk_live *live, enum uvk_door_request code, const uint8_t *content,
          size_t size, uint8_t out[UVK_DOOR_CONTENT], GError **error);

/* Requests that may be under way: a keyboard has one in hand, and one in the buffer of its
 * endpoint. */
#define UNDER_WAY_MOST 2u

/* talk.c: a request whose answer is heard later. False: *ERROR. How many are under way. */
bool talk_on(struct uvk_live *live, enum uvk_door_request code, const uint8_t *content,
             size_t size, GError **error);
unsigned under_way(const struct uvk_live *live);

/* talk.c: the answer to the oldest of those, as by talk. */
bool hear_next(struct uvk_live *live, uint8_t out[UVK_DOOR_CONTENT], GError **error);

/* talk.c: the answers to all of them. False: one was refused, *ERROR. */
bool hear_all(struct uvk_live *live, GError **error);

/* talk.c: what waits there for somebody else is fetched, and forgotten. */
void drain(struct uvk_live *live);

/* talk.c: wait for a report of events for MS; what has come goes into the queue. */
bool listen(struct uvk_live *live, unsigned ms, GError **error);

#endif
