/* play.c - do what a play says, and compare. */
#include "rig.h"

#include "uvrek/bench.h"
#include "uvrek/hid.h"

#include <string.h>

#define TAP_REST  20000u                      /* microseconds after a tap */
#define PLAY_MOST (UINT64_C(3600) * 1000000u) /* microseconds that a play may take */

static bool is_mod(const struct uvk_press *press)
{
    return press->page == UVK_HID_PAGE_KEYBOARD && press->usage >= UVK_HID_FIRST_MOD &&
           press->usage <= UVK_HID_LAST_MOD;
}

/* A press as a value of the language: a modifier alone has its bit and no usage. */
static struct uvk_value press_value(const struct uvk_press *press)
{
    struct uvk_value value = {.kind = UVK_VALUE_USAGE,
                              .mods = press->mods,
                              .page = press->page,
                              .usage = press->usage};

    if (is_mod(press)) {
        value.mods |= (uint8_t)(1u << (press->usage - UVK_HID_FIRST_MOD));
        value.usage = 0;
    }
    return value;
}

static void append_value(GString *out, const struct uvk_value *value)
{
    char *text = uvk_value_text(value);

    g_string_append_printf(out, "%s%s", out->len > 0 ? " " : "", text);
    g_free(text);
}

static char *or_nothing(GString *out)
{
    if (out->len == 0) {
        g_string_append(out, "nothing");
    }
    return g_string_free(out, FALSE);
}

char *uvk_presses_text(const GArray *presses)
{
    GString *out = g_string_new(NULL);

    for (guint i = 0; i < presses->len; i++) {
        struct uvk_value value = press_value(&g_array_index(presses, struct uvk_press, i));
        append_value(out, &value);
    }
    return or_nothing(out);
}

/* Each modifier and each key that is down, one by one. */
static GArray *held_values(const struct uvk_host *host)
{
    GArray *values = g_array_new(FALSE, TRUE, sizeof(struct uvk_value));
    const GArray *held = uvk_host_held(host);

    for (unsigned bit = 0; bit < 8; bit++) {
        struct uvk_value mod = {.kind = UVK_VALUE_USAGE,
                                .mods = (uint8_t)(1u << bit),
                                .page = UVK_HID_PAGE_KEYBOARD};
        if (uvk_host_mods(host) & mod.mods) {
            g_array_append_val(values, mod);
        }
    }
    for (guint i = 0; i < held->len; i++) {
        struct uvk_value value = press_value(&g_array_index(held, struct uvk_press, i));
        value.mods = 0;
        g_array_append_val(values, value);
    }
    return values;
}

static char *values_text(const struct uvk_value *values, size_t count)
{
    GString *out = g_string_new(NULL);

    for (size_t i = 0; i < count; i++) {
        append_value(out, &values[i]);
    }
    return or_nothing(out);
}

char *uvk_held_text(const struct uvk_host *host)
{
    GArray *values = held_values(host);
    char *text = values_text((const struct uvk_value *)(void *)values->data, values->len);

    g_array_free(values, TRUE);
    return text;
}

/* What EXPECTED says is held, split into single modifiers and keys: shift+a is two. */
static GArray *split_values(const struct uvk_value *expected, size_t count)
{
    GArray *values = g_array_new(FALSE, TRUE, sizeof(struct uvk_value));

    for (size_t i = 0; i < count; i++) {
        struct uvk_value key = expected[i];
        for (unsigned bit = 0; bit < 8; bit++) {
            struct uvk_value mod = {.kind = UVK_VALUE_USAGE,
                                    .mods = (uint8_t)(1u << bit),
                                    .page = UVK_HID_PAGE_KEYBOARD};
            if (key.mods & mod.mods) {
                g_array_append_val(values, mod);
            }
        }
        key.mods = 0;
        if (key.usage != 0) {
            g_array_append_val(values, key);
        }
    }
    return values;
}

static bool all_in(const GArray *some, const GArray *others)
{
    for (guint i = 0; i < some->len; i++) {
        bool found = false;
        for (guint j = 0; j < others->len && !found; j++) {
            found = uvk_value_equal(&g_array_index(some, struct uvk_value, i),
                                    &g_array_index(others, struct uvk_value, j));
        }
        if (!found) {
            return false;
        }
    }
    return true;
}

/* ---- expectations ----------------------------------------------------------------- */

static bool fails(const struct uvk_step *step, struct uvk_outcome *outcome, char *expected,
                  char *got)
{
    outcome->failed = step;
    outcome->expected = expected;
    outcome->got = got;
    return false;
}

static bool expect_text(const struct uvk_step *step, struct uvk_rig *rig,
                        struct uvk_outcome *outcome)
{
    char *got = uvk_host_take_text(uvk_rig_host(rig));
    bool good = strcmp(got, step->text) == 0;

    if (!good) {
        fails(step, outcome, uvk_string_text(step->text), uvk_string_text(got));
    }
    g_free(got);
    return good;
}

static bool expect_keys(const struct uvk_step *step, struct uvk_rig *rig,
                        struct uvk_outcome *outcome)
{
    GArray *presses = uvk_host_take_presses(uvk_rig_host(rig));
    bool good = presses->len == step->value_count;

    for (guint i = 0; good && i < presses->len; i++) {
        struct uvk_value value = press_value(&g_array_index(presses, struct uvk_press, i));
        good = uvk_value_equal(&value, &step->values[i]);
    }
    if (!good) {
        fails(step, outcome, values_text(step->values, step->value_count),
              uvk_presses_text(presses));
    }
    g_array_free(presses, TRUE);
    return good;
}

static bool expect_held(const struct uvk_step *step, struct uvk_rig *rig,
                        struct uvk_outcome *outcome)
{
    GArray *got = held_values(uvk_rig_host(rig));
    GArray *expected = split_values(step->values, step->value_count);
    bool good = all_in(got, expected) && all_in(expected, got);

    if (!good) {
        fails(step, outcome, values_text(step->values, step->value_count),
              uvk_held_text(uvk_rig_host(rig)));
    }
    g_array_free(got, TRUE);
    g_array_free(expected, TRUE);
    return good;
}

#define LAYERS_ROOM 255u

static char *layers_text(const struct uvk_program *program, const unsigned *order,
                         unsigned count)
{
    GString *out = g_string_new(NULL);

    for (unsigned i = 0; i < count; i++) {
        const char *name = order[i] < program->keymap->layer_count
                               ? program->keymap->layers[order[i]].name
                               : "?";
        g_string_append_printf(out, "%s%s", i > 0 ? " " : "", name);
    }
    return or_nothing(out);
}

/* Which layers are on, in whatever order they are listed. */
static bool expect_layers(const struct uvk_program *program, const struct uvk_step *step,
                          struct uvk_rig *rig, struct uvk_outcome *outcome)
{
    uint8_t order[LAYERS_ROOM];
    unsigned got[LAYERS_ROOM];
    unsigned expected[LAYERS_ROOM];
    unsigned count = uvk_rig_layers(rig, order, LAYERS_ROOM);
    unsigned wanted = MIN(step->value_count, LAYERS_ROOM);
    unsigned found = 0;

    for (unsigned i = 0; i < wanted; i++) {
        expected[i] = step->values[i].layer;
    }
    for (unsigned i = 0; i < count; i++) {
        bool listed = false;
        got[i] = order[i];
        for (unsigned j = 0; j < wanted; j++) {
            listed |= expected[j] == got[i];
        }
        found += listed;
    }
    if (found == count && count == wanted) {
        return true;
    }
    return fails(step, outcome, layers_text(program, expected, wanted),
                 layers_text(program, got, count));
}

static bool expect_movement(const struct uvk_step *step, struct uvk_movement got,
                            struct uvk_outcome *outcome)
{
    if (got.x == step->x && got.y == step->y) {
        return true;
    }
    return fails(step, outcome, g_strdup_printf("%d %d", step->x, step->y),
                 g_strdup_printf("%d %d", got.x, got.y));
}

/* From what a finger last did to the first report after it. */
static bool expect_delay(const struct uvk_step *step, struct uvk_rig *rig,
                         struct uvk_outcome *outcome)
{
    uint64_t touched = uvk_rig_touched(rig);
    uint64_t when;
    char *expected = g_strdup_printf("less than %g ms", (double)step->time / 1000);

    if (!uvk_host_report_since(uvk_rig_host(rig), touched, &when)) {
        return fails(step, outcome, expected, g_strdup("no report"));
    }
    if (when - touched >= step->time) {
        return fails(step, outcome, expected,
                     g_strdup_printf("%g ms", (double)(when - touched) / 1000));
    }
    g_free(expected);
    return true;
}

static bool expect_lights(const struct uvk_step *step, struct uvk_rig *rig,
                          struct uvk_outcome *outcome)
{
    char *expected = NULL;
    char *got = NULL;

    if (!rig_lights_are(rig, step, &expected, &got)) {
        return fails(step, outcome, expected, got);
    }
    g_free(expected);
    g_free(got);
    return true;
}

static bool expect(const struct uvk_program *program, const struct uvk_step *step,
                   struct uvk_rig *rig, struct uvk_outcome *outcome)
{
    switch (step->kind) {
    case UVK_STEP_EXPECT_TEXT:
        return expect_text(step, rig, outcome);
    case UVK_STEP_EXPECT_KEYS:
        return expect_keys(step, rig, outcome);
    case UVK_STEP_EXPECT_HELD:
        return expect_held(step, rig, outcome);
    case UVK_STEP_EXPECT_POINTER:
        return expect_movement(step, uvk_host_take_pointer(uvk_rig_host(rig)), outcome);
    case UVK_STEP_EXPECT_WHEEL:
        return expect_movement(step, uvk_host_take_wheel(uvk_rig_host(rig)), outcome);
    case UVK_STEP_EXPECT_DELAY:
        return expect_delay(step, rig, outcome);
    case UVK_STEP_EXPECT_LEVEL:
    case UVK_STEP_EXPECT_EFFECT:
    case UVK_STEP_EXPECT_COLOUR:
    case UVK_STEP_EXPECT_LAMPS:
        return expect_lights(step, rig, outcome);
    default:
        return expect_layers(program, step, rig, outcome);
    }
}

/* ---- steps ------------------------------------------------------------------------ */

/* What a finger does reaches the host within the debounce times, the bouncing, two passes
 * and a poll. An expectation looks after that; and a finger's step that no `wait` precedes
 * comes after that, so that the steps keep their order. */
#define REACH 5000u

static bool reach_host(struct uvk_rig *rig, const struct uvk_keymap *keymap, GError **error)
{
    double within = MAX(keymap->settings[UVK_SET_DEBOUNCE].value,
                        keymap->settings[UVK_SET_PRESS_AFTER].value);
    uint64_t ready = uvk_rig_touched(rig) + (uint64_t)within + REACH;
    uint64_t now = uvk_rig_now(rig);

    return ready <= now || uvk_rig_run(rig, ready - now, error);
}

/* A finger's step that comes at the same moment as the last one waits for that, unless
 * `wait 0ms` stands between. */
static bool keep_order(struct uvk_rig *rig, const struct uvk_keymap *keymap, GError **error)
{
    return uvk_rig_is_together(rig) || uvk_rig_touched(rig) != uvk_rig_now(rig) ||
           reach_host(rig, keymap, error);
}

static bool wait(struct uvk_rig *rig, uint64_t time, GError **error)
{
    if (time == 0) {
        uvk_rig_together(rig);
        return true;
    }
    return uvk_rig_run(rig, time, error);
}

static bool press(struct uvk_rig *rig, const struct uvk_keymap *keymap, unsigned key, bool down,
                  GError **error)
{
    if (!keep_order(rig, keymap, error)) {
        return false;
    }
    uvk_rig_press(rig, key, down);
    return true;
}

/* What happens to the halves, and to the cable between them. */
static void disturb(struct uvk_rig *rig, const struct uvk_step *step)
{
    if (step->kind == UVK_STEP_RESTART) {
        uvk_rig_restart_half(rig, step->key);
    } else if (step->kind == UVK_STEP_NOISE) {
        uvk_rig_noise(rig, (unsigned)step->x);
    } else {
        uvk_rig_cable(rig, step->kind == UVK_STEP_JOIN    ? UVK_CABLE_IN
                           : step->kind == UVK_STEP_CROSS ? UVK_CABLE_CROSSED
                                                          : UVK_CABLE_OUT);
    }
}

int uvk_step_run(const struct uvk_program *program, struct uvk_rig *rig,
                 const struct uvk_step *step, struct uvk_outcome *outcome, GError **error)
{
    bool going = true;

    switch (step->kind) {
    case UVK_STEP_DOWN:
        going = press(rig, program->keymap, step->key, true, error);
        break;
    case UVK_STEP_UP:
        going = press(rig, program->keymap, step->key, false, error);
        break;
    case UVK_STEP_TAP:
        going = press(rig, program->keymap, step->key, true, error) &&
                uvk_rig_run(rig, step->time, error) &&
                press(rig, program->keymap, step->key, false, error) &&
                uvk_rig_run(rig, TAP_REST, error);
        break;
    case UVK_STEP_TURN:
        going = keep_order(rig, program->keymap, error) &&
                uvk_rig_run(rig, uvk_rig_turn(rig, step->key, step->x), error);
        break;
    case UVK_STEP_WAIT:
        going = wait(rig, step->time, error);
        break;
    case UVK_STEP_LOCK:
        uvk_host_lock(uvk_rig_host(rig), (enum uvk_lock)step->key, step->x != 0);
        break;
    case UVK_STEP_PROTOCOL:
        going = reach_host(rig, program->keymap, error) &&
                uvk_rig_protocol(rig, step->x != 0, error);
        break;
    case UVK_STEP_PULL:
    case UVK_STEP_JOIN:
    case UVK_STEP_CROSS:
    case UVK_STEP_NOISE:
    case UVK_STEP_RESTART:
        going = reach_host(rig, program->keymap, error);
        disturb(rig, step);
        break;
    case UVK_STEP_SETTLE:
        going = uvk_rig_settle(rig, error);
        break;
    default:
        if (!reach_host(rig, program->keymap, error)) {
            return -1;
        }
        return expect(program, step, rig, outcome) ? 1 : 0;
    }
    return going ? 1 : -1;
}

int uvk_play_run(const struct uvk_program *program, struct uvk_rig *rig,
                 const struct uvk_play *play, struct uvk_outcome *outcome, GError **error)
{
    uint64_t start = uvk_rig_now(rig);
    int result = 1;

    memset(outcome, 0, sizeof *outcome);
    outcome->play = play;
    for (const struct uvk_step *step = play->steps; step != NULL && result == 1;
         step = step->next) {
        result = uvk_step_run(program, rig, step, outcome, error);
        if (result == 1 && uvk_rig_now(rig) - start > PLAY_MOST) {
            g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                        "the play '%s' takes more than an hour of the keyboard's time",
                        play->name);
            result = -1;
        }
    }
    outcome->trouble = result == 0 ? uvk_rig_trouble(rig) : NULL;
    outcome->start = start;
    outcome->time = uvk_rig_now(rig) - start;
    outcome->moments = uvk_rig_moments(rig);
    outcome->film = g_array_copy((GArray *)uvk_rig_film(rig));
    return result;
}

void uvk_outcome_clear(struct uvk_outcome *outcome)
{
    g_free(outcome->expected);
    g_free(outcome->got);
    uvk_moments_free(outcome->moments);
    g_clear_pointer(&outcome->film, g_array_unref);
    outcome->moments = NULL;
    outcome->expected = NULL;
    outcome->got = NULL;
}
