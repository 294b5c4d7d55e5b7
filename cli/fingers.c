/* fingers.c - see fingers.h. */
#include "fingers.h"

#define START_US                                                                               \
    20000u /* till the host knows the keyboard: keys that are down then are none               \
            */

/* Two that were seen in the same millisecond come together again. */
static void do_touch(const struct uvk_program *program, struct uvk_rig *rig,
                     const struct touch *touch, const struct touch *before)
{
    const struct uvk_board *board = program->board;

    if (touch->cell < board->key_count) {
        if (before != NULL && before->time == touch->time) {
            uvk_rig_together(rig);
        }
        uvk_rig_press(rig, touch->cell, touch->down);
    } else if (touch->down) {
        unsigned turn = touch->cell - board->key_count;
        (void)uvk_rig_turn(rig, turn / 2, turn % 2 == 0 ? -1 : 1);
    }
}

bool fingers_play(const struct uvk_program *program, struct uvk_rig *rig,
                  const GPtrArray *touches, uint64_t *start, GError **error)
{
    const struct touch *before = NULL;

    if (!uvk_rig_run(rig, START_US, error)) {
        return false;
    }
    *start = uvk_rig_now(rig);
    for (guint i = 0; i < touches->len; i++) {
        const struct touch *touch = touches->pdata[i];
        uint64_t now = uvk_rig_now(rig) - *start;
        if (touch->time > now && !uvk_rig_run(rig, touch->time - now, error)) {
            return false;
        }
        do_touch(program, rig, touch, before);
        before = touch;
    }
    return uvk_rig_settle(rig, error);
}
