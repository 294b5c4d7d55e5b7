/* live_watch.c - what happens in the keyboard, as it happens. */
#include "events.h"
#include "live.h"
#include "watched.h"

#include "uvrek/bench.h"

#include <stdio.h>
#include <stdlib.h>

#define LOOK_MS 250u
#define ALL     (1u << UVK_EVENT_CONTACT | 1u << UVK_EVENT_DECISION | 1u << UVK_EVENT_LAYERS)

struct watching {
    struct session *session;
    const struct uvk_image *image;
    struct events events;
    struct watched *watched; /* for a picture; NULL: none is asked for */
};

/* What is told from outside may name a key that the board does not have. */
static bool is_key(const struct watching *watching, uint8_t key)
{
    const struct uvk_board *board = watching->session->program->board;

    return key < uvk_board_cells(board);
}

static char *key_name(const struct watching *watching, uint8_t key)
{
    if (key >= UVK_FIRST_COMBO) {
        return g_strdup("a combo");
    }
    return is_key(watching, key) ? uvk_source_text(watching->session->program, key)
                                 : g_strdup_printf("key %u", key);
}

static char *why_text(const struct watching *watching, const struct uvk_decision *decision)
{
    return decision->reason < UVK_REASONS &&
                   (decision->cause == UVK_NO_KEY || is_key(watching, decision->cause))
               ? uvk_decision_text(watching->session->program, decision)
               : g_strdup("for a reason that is not known here");
}

/* An action that the image in force does not have: the keyboard was changed meanwhile. */
static char *does_text(const struct watching *watching, uvk_action action)
{
    return uvk_live_has_action(watching->image, action)
               ? uvk_live_text(watching->session->program, &watching->session->wanted,
                               watching->image, action)
               : g_strdup("something new");
}

static char *layers_text(const struct watching *watching)
{
    const struct uvk_keymap *keymap = watching->session->program->keymap;
    GString *out = g_string_new(NULL);

    for (guint i = 0; i < watching->events.layers->len; i++) {
        uint8_t layer = g_array_index(watching->events.layers, uint8_t, i);
        g_string_append_printf(out, "%s%s", i > 0 ? " " : "",
                               layer < keymap->layer_count ? keymap->layers[layer].name : "?");
    }
    return g_string_free(out, FALSE);
}

/* For the picture. */
static void keep_event(struct watching *watching, const struct uvk_live_event *event)
{
    char *why = event->kind == UVK_EVENT_DECISION ? why_text(watching, &event->decision) : NULL;

    watched_event(watching->watched, event, events_ms(&watching->events, event), why);
    g_free(why);
}

/* ---- in words --------------------------------------------------------------------------- */

static void print_event(struct watching *watching, const struct uvk_live_event *event)
{
    unsigned long long ms = events_ms(&watching->events, event);
    char *name = NULL;
    char *text = NULL;
    char *why = NULL;

    switch (event->kind) {
    case UVK_EVENT_CONTACT:
        name = key_name(watching, event->key);
        printf("%7llu ms  %-4s %s\n", ms, event->on ? "down" : "up", name);
        break;
    case UVK_EVENT_DECISION:
        name = key_name(watching, event->key);
        text = does_text(watching, event->decision.action);
        why = why_text(watching, &event->decision);
        printf("%7llu ms       %s does %s: %s\n", ms, name, text, why);
        break;
    default:
        text = layers_text(watching);
        printf("%7llu ms       layers on: %s\n", ms, text);
        break;
    }
    g_free(name);
    g_free(text);
    g_free(why);
}

static void event_to_json(struct watching *watching, const struct uvk_live_event *event)
{
    static const char *const kinds[] = {[UVK_EVENT_CONTACT] = "contact",
                                        [UVK_EVENT_DECISION] = "decision",
                                        [UVK_EVENT_LAYERS] = "layer"};
    const struct uvk_keymap *keymap = watching->session->program->keymap;
    json_t *json = json_object();
    char *text;

    put_text(json, "kind", kinds[event->kind]);
    put_number(json, "ms", (json_int_t)events_ms(&watching->events, event));
    if (event->kind == UVK_EVENT_LAYERS) {
        put_text(json, "layer",
                 event->key < keymap->layer_count ? keymap->layers[event->key].name : NULL);
        put_flag(json, "on", event->on);
    } else {
        put_number(json, "key", event->key);
        text = key_name(watching, event->key);
        put_text(json, "name", text);
        g_free(text);
        text = is_key(watching, event->key)
                   ? uvk_cell_place(watching->session->program->board, event->key)
                   : NULL;
        put_text(json, "place", text);
        g_free(text);
    }
    if (event->kind == UVK_EVENT_CONTACT) {
        put_flag(json, "down", event->on);
    }
    if (event->kind == UVK_EVENT_DECISION) {
        text = does_text(watching, event->decision.action);
        put_text(json, "does", text);
        g_free(text);
        text = why_text(watching, &event->decision);
        put_text(json, "why", text);
        g_free(text);
    }
    print_json_line(json);
}

/* ---- watching --------------------------------------------------------------------------- */

static void tell_lost(const struct watching *watching, unsigned lost)
{
    fprintf(stderr, "%u events were lost: more happened than the cable carries\n", lost);
    if (watching->session->wishes->as_json) {
        printf("{\"kind\":\"lost\",\"events\":%u}\n", lost);
    }
}

static bool watch(struct watching *watching, GError **error)
{
    struct session *session = watching->session;
    struct uvk_live_event event;
    unsigned lost;

    watching->image = uvk_live_image(session->live, error);
    if (watching->image == NULL || !uvk_live_watch(session->live, ALL, error)) {
        return false;
    }
    while (!listening_ends()) {
        int come = uvk_live_next(session->live, LOOK_MS, &event, error);
        if (come < 0) {
            return false;
        }
        if (come == 0 || event.kind < UVK_EVENT_CONTACT || event.kind > UVK_EVENT_LAYERS) {
            continue;
        }
        lost = events_take(&watching->events, &event);
        if (lost > 0) {
            tell_lost(watching, lost);
        }
        if (session->wishes->as_json) {
            event_to_json(watching, &event);
        } else {
            print_event(watching, &event);
        }
        (void)fflush(stdout);
        if (watching->watched != NULL) {
            keep_event(watching, &event);
        }
    }
    return uvk_live_watch(session->live, 0, error);
}

int live_watch(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    struct watching watching = {.session = &session};
    GError *error = NULL;
    int status;

    (void)count;
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    listening_begins();
    events_init(&watching.events);
    if (wishes->picture != NULL) {
        watching.watched = watched_new(session.program);
    }
    if (!session_find(&session, &error) || !session_open(&session, &error) ||
        !watch(&watching, &error)) {
        status = print_problem(error);
        error = NULL;
    }
    if (watching.watched != NULL && watching.events.begun &&
        !watched_draw(watching.watched, wishes->picture, &error)) {
        status = print_problem(error);
    }
    watched_free(watching.watched);
    events_clear(&watching.events);
    session_end(&session);
    return status;
}
