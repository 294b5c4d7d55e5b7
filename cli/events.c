/* events.c - see events.h. */
#include "events.h"

#include <signal.h>

static volatile sig_atomic_t stopped;

static void stop(int number)
{
    (void)number;
    stopped = 1;
}

void listening_begins(void)
{
    (void)signal(SIGINT, stop);
    (void)signal(SIGTERM, stop);
}

bool listening_ends(void)
{
    return stopped != 0;
}

void events_init(struct events *events)
{
    *events = (struct events){.layers = g_array_new(FALSE, FALSE, sizeof(uint8_t))};
}

void events_clear(struct events *events)
{
    g_array_unref(events->layers);
}

/* A layer that goes on is the latest one, wherever it was before. */
static void change_layers(GArray *layers, uint8_t layer, bool on)
{
    for (guint i = 0; i < layers->len; i++) {
        if (g_array_index(layers, uint8_t, i) == layer) {
            g_array_remove_index(layers, i);
            break;
        }
    }
    if (on) {
        g_array_append_val(layers, layer);
    }
}

unsigned events_take(struct events *events, const struct uvk_live_event *event)
{
    unsigned lost = events->begun ? (event->number - events->next) & 0xFFFFu : 0;
    uint16_t since = (uint16_t)(event->ms - events->last);

    if (events->begun && since < 0x8000u) { /* else it tells of something earlier */
        events->ms += since;
        events->last = event->ms;
    } else if (!events->begun) {
        events->last = event->ms;
    }
    events->begun = true;
    events->next = event->number + 1;
    events->lost += lost;
    if (event->kind == UVK_EVENT_LAYERS) {
        change_layers(events->layers, event->key, event->on);
    }
    return lost;
}

uint64_t events_ms(const struct events *events, const struct uvk_live_event *event)
{
    uint16_t before = (uint16_t)(events->last - event->ms);

    return events->ms - MIN(events->ms, (uint64_t)before);
}
