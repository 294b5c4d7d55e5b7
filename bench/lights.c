/* lights.c - what can be seen of a keyboard's lights. */
#include "rig.h"

#include "uvrek/lights.h"
#include "uvrek/names.h"

#include <string.h>

void rig_tell_lamps(struct uvk_rig *rig)
{
    uint8_t lamps = uvk_host_lamps(rig->host);

    if (rig->program->board->lamp_count > 0 && rig->kind->lamps != NULL &&
        lamps != rig->lamps && !rig->in_bootloader && rig->kind->lamps(rig, lamps)) {
        rig->lamps = lamps;
    }
}

bool uvk_rig_lights(struct uvk_rig *rig, struct uvk_rig_lights *lights)
{
    const struct uvk_board *board = rig->program->board;

    memset(lights, 0, sizeof *lights);
    return (uvk_board_lights_up(board) || board->lamp_count > 0) &&
           rig->kind->lights(rig, lights);
}

/* ---- over time -------------------------------------------------------------------------- */

uint64_t rig_film_due(const struct uvk_rig *rig)
{
    return rig->film_step > 0 ? MAX(rig->film_next, rig->now + 1) : UINT64_MAX;
}

/* Every second one goes, and from now on only every second one comes. */
static void thin_out(struct uvk_rig *rig)
{
    for (guint i = 1; i < rig->film->len; i++) {
        g_array_remove_index(rig->film, i);
    }
    rig->film_step *= 2;
}

void rig_film_take(struct uvk_rig *rig)
{
    struct uvk_frame frame = {.time = rig->now};

    rig->film_next = rig->now + rig->film_step;
    if (uvk_rig_lights(rig, &frame.lights)) {
        g_array_append_val(rig->film, frame);
    }
    if (rig->film->len == UVK_FRAMES_MOST) {
        thin_out(rig);
    }
}

const GArray *uvk_rig_film(const struct uvk_rig *rig)
{
    return rig->film;
}

/* ---- colours ---------------------------------------------------------------------------- */

static uint8_t in_full(uint8_t scaled, uint8_t scale)
{
    return (uint8_t)MIN((scaled * 256u + scale / 2u) / (scale + 1u), UINT8_MAX);
}

struct uvk_colour uvk_colour_in_full(struct uvk_colour scaled, uint8_t scale)
{
    return (struct uvk_colour){in_full(scaled.red, scale), in_full(scaled.green, scale),
                               in_full(scaled.blue, scale)};
}

bool uvk_rig_strip_timing(struct uvk_rig *rig, struct uvk_strip_timing *timing)
{
    return rig->program->board->strip.place.source != NULL && rig->kind->timing != NULL &&
           rig->kind->timing(rig, timing);
}

/* ---- what a play expects ---------------------------------------------------------------- */

static char *colour_text(struct uvk_colour colour)
{
    return g_strdup_printf("#%02x%02x%02x", colour.red, colour.green, colour.blue);
}

static char *level_text(unsigned level)
{
    return level == 0 ? g_strdup("off") : g_strdup_printf("level %u", level);
}

static char *lamps_text(const struct uvk_board *board, unsigned lit)
{
    GString *out = g_string_new(NULL);

    for (unsigned i = 0; i < board->lamp_count; i++) {
        if ((lit >> i & 1u) != 0) {
            g_string_append_printf(out, "%s%s", out->len > 0 ? " " : "",
                                   uvk_lamp_name(&board->lamps[i]));
        }
    }
    return g_string_free(g_string_append(out, out->len > 0 ? "" : "nothing"), FALSE);
}

/* The lamp below KEY, among those of all strips. */
static unsigned lamp_below(const struct uvk_board *board, unsigned key)
{
    const struct uvk_strip *strip = &board->strip;

    for (unsigned half = 0; half < uvk_board_strips(board); half++) {
        for (unsigned i = 0; i < strip->count; i++) {
            if (strip->keys[half][i] == (int)key) {
                return half * strip->count + i;
            }
        }
    }
    return 0; /* the play was not read then */
}

static bool same_colour(struct uvk_colour a, struct uvk_colour b)
{
    return a.red == b.red && a.green == b.green && a.blue == b.blue;
}

static bool colour_is(struct uvk_rig *rig, const struct uvk_step *step,
                      const struct uvk_rig_lights *lights, char **expected, char **got)
{
    unsigned value = (unsigned)step->x;
    struct uvk_colour wanted = {(uint8_t)(value >> 16), (uint8_t)(value >> 8 & 0xFFu),
                                (uint8_t)(value & 0xFFu)};
    struct uvk_colour scaled = {uvk_light_scaled(wanted.red, lights->scale),
                                uvk_light_scaled(wanted.green, lights->scale),
                                uvk_light_scaled(wanted.blue, lights->scale)};
    struct uvk_colour sent = lights->strip[lamp_below(rig->program->board, step->key)];

    if (lights->scale > 0 && same_colour(scaled, sent)) {
        return true;
    }
    *expected = colour_text(wanted);
    *got = lights->scale == 0 ? g_strdup("off")
                              : colour_text(uvk_colour_in_full(sent, lights->scale));
    return false;
}

bool rig_lights_are(struct uvk_rig *rig, const struct uvk_step *step, char **expected,
                    char **got)
{
    const struct uvk_board *board = rig->program->board;
    struct uvk_rig_lights lights;

    if (!uvk_rig_lights(rig, &lights)) {
        *expected = g_strdup("lights");
        *got = g_strdup("none that can be seen");
        return false;
    }
    switch (step->kind) {
    case UVK_STEP_EXPECT_COLOUR:
        return colour_is(rig, step, &lights, expected, got);
    case UVK_STEP_EXPECT_LAMPS:
        *expected = lamps_text(board, (unsigned)step->x);
        *got = lamps_text(board, lights.lamps);
        return lights.lamps == step->x;
    case UVK_STEP_EXPECT_EFFECT:
        *expected = g_strdup(uvk_effect_names[step->x]);
        *got = g_strdup(lights.effect < UVK_EFFECTS ? uvk_effect_names[lights.effect] : "?");
        return lights.effect == step->x;
    default:
        *expected = level_text((unsigned)step->x);
        *got = level_text(lights.level);
        return lights.level == step->x;
    }
}
