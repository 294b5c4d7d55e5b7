/* fingers.c - see fingers.h. */
#include "fingers.h"

#define START_US                                                                               \
    20000u /* till the host knows the keyboard: keys that are down then are none               \
            */
#define MS 1000u

/* ---- contacts ---------------------------------------------------------------------------- */

struct contact {
    uint64_t time; /* microseconds since the first one */
    const struct touch *touch;
};

static uint64_t setting_us(const struct uvk_program *program, enum uvk_setting setting)
{
    return (uint64_t)program->keymap->settings[setting].value;
}

static uint64_t earlier(uint64_t time, uint64_t by, uint64_t not_before)
{
    return time > by + not_before ? time - by : not_before;
}

static int by_time(gconstpointer a, gconstpointer b)
{
    uint64_t one = ((const struct contact *)a)->time;
    uint64_t other = ((const struct contact *)b)->time;

    return one < other ? -1 : one > other;
}

/* A recording says when a press or a release counted; the contact was that much earlier as a
 * keyboard takes to count it. */
static GArray *contacts_of(const struct uvk_program *program, const GPtrArray *touches)
{
    uint64_t press = setting_us(program, UVK_SET_PRESS_AFTER);
    uint64_t release = setting_us(program, UVK_SET_DEBOUNCE);
    uint64_t *closed = g_new0(uint64_t, uvk_board_cells(program->board) + 1);
    GArray *contacts = g_array_new(FALSE, FALSE, sizeof(struct contact));

    for (guint i = 0; i < touches->len; i++) {
        const struct touch *touch = touches->pdata[i];
        struct contact contact = {touch->time, touch};
        if (touch->cell < program->board->key_count) {
            contact.time = touch->down
                               ? earlier(touch->time, press, 0)
                               : earlier(touch->time, release, closed[touch->cell] + MS);
            closed[touch->cell] = contact.time;
        }
        g_array_append_val(contacts, contact);
    }
    g_array_sort(contacts, by_time); /* those of the same time stay in order */
    g_free(closed);
    return contacts;
}

/* ---- on the keyboard --------------------------------------------------------------------- */

/* Two that were seen in the same millisecond come TOGETHER again. */
static void do_touch(const struct uvk_program *program, struct uvk_rig *rig,
                     const struct touch *touch, bool together)
{
    const struct uvk_board *board = program->board;

    if (touch->cell < board->key_count) {
        if (together) {
            uvk_rig_together(rig);
        }
        uvk_rig_press(rig, touch->cell, touch->down);
    } else if (touch->down) {
        unsigned turn = touch->cell - board->key_count;
        (void)uvk_rig_turn(rig, turn / 2, turn % 2 == 0 ? -1 : 1);
    }
}

static bool play_contacts(const struct uvk_program *program, struct uvk_rig *rig,
                          const GArray *contacts, uint64_t start, GError **error)
{
    for (guint i = 0; i < contacts->len; i++) {
        const struct contact *contact = &g_array_index(contacts, struct contact, i);
        uint64_t now = uvk_rig_now(rig) - start;
        if (contact->time > now && !uvk_rig_run(rig, contact->time - now, error)) {
            return false;
        }
        do_touch(program, rig, contact->touch, i > 0 && contact[-1].time == contact->time);
    }
    return uvk_rig_settle(rig, error);
}

bool fingers_play(const struct uvk_program *program, struct uvk_rig *rig,
                  const GPtrArray *touches, uint64_t *start, GError **error)
{
    GArray *contacts;
    bool good;

    if (!uvk_rig_run(rig, START_US, error)) {
        return false;
    }
    *start = uvk_rig_now(rig);
    contacts = contacts_of(program, touches);
    good = play_contacts(program, rig, contacts, *start, error);
    g_array_free(contacts, TRUE);
    return good;
}
