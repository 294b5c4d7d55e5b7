/* lift.c - what an image says, in the words of a keymap's text. */
#include "lift.h"

#include "uvrek/hid.h"

#include <string.h>

/* What a device action does, as the language names it: page, usage, turn. */
static const struct {
    uint8_t device, value;
    uint16_t page, usage;
    int turn;
} devices[] = {
    {UVK_DEVICE_SYSTEM, UVK_SYSTEM_MICROPHONE, UVK_HID_PAGE_DESKTOP, UVK_HID_NO_MICROPHONE, 0},
    {UVK_DEVICE_WHEEL, UVK_WHEEL_UP, UVK_HID_PAGE_DESKTOP, UVK_HID_WHEEL, 1},
    {UVK_DEVICE_WHEEL, UVK_WHEEL_DOWN, UVK_HID_PAGE_DESKTOP, UVK_HID_WHEEL, -1},
    {UVK_DEVICE_WHEEL, UVK_WHEEL_LEFT, UVK_HID_PAGE_CONSUMER, UVK_HID_AC_PAN, -1},
    {UVK_DEVICE_WHEEL, UVK_WHEEL_RIGHT, UVK_HID_PAGE_CONSUMER, UVK_HID_AC_PAN, 1},
    {UVK_DEVICE_POINT, UVK_WHEEL_UP, UVK_HID_PAGE_DESKTOP, UVK_HID_Y, -1},
    {UVK_DEVICE_POINT, UVK_WHEEL_DOWN, UVK_HID_PAGE_DESKTOP, UVK_HID_Y, 1},
    {UVK_DEVICE_POINT, UVK_WHEEL_LEFT, UVK_HID_PAGE_DESKTOP, UVK_HID_X, -1},
    {UVK_DEVICE_POINT, UVK_WHEEL_RIGHT, UVK_HID_PAGE_DESKTOP, UVK_HID_X, 1},
    {UVK_DEVICE_PACE, UVK_PACE_SLOW, UVK_PAGE_OWN, UVK_OWN_PACE_SLOW, 0},
    {UVK_DEVICE_PACE, UVK_PACE_FAST, UVK_PAGE_OWN, UVK_OWN_PACE_FAST, 0},
    {UVK_DEVICE_LEADER, 0, UVK_PAGE_OWN, UVK_OWN_LEADER, 0},
    {UVK_DEVICE_LONG_PRESS, 0, UVK_PAGE_OWN, UVK_OWN_LONG_PRESS, 0},
};

static struct uvk_value usage_value(uint16_t page, uint16_t usage, int turn)
{
    return (struct uvk_value){
        .kind = UVK_VALUE_USAGE, .page = page, .usage = usage, .turn = turn};
}

static struct uvk_value device_value(uint8_t device, uint8_t value)
{
    for (size_t i = 0; i < G_N_ELEMENTS(devices); i++) {
        if (devices[i].device == device && devices[i].value == value) {
            return usage_value(devices[i].page, devices[i].usage, devices[i].turn);
        }
    }
    switch (device) {
    case UVK_DEVICE_BLOCK:
        return (struct uvk_value){.kind = UVK_VALUE_BLOCK, .usage = value};
    case UVK_DEVICE_BOARD:
        return (struct uvk_value){.kind = UVK_VALUE_BOARD, .usage = value};
    case UVK_DEVICE_CLICK:
        return usage_value(UVK_HID_PAGE_BUTTON, value, 0);
    default:
        return usage_value(UVK_HID_PAGE_DESKTOP, value, 0);
    }
}

/* The text of VALUE, which has no parts of its own. */
static char *value_text(const struct lift *lift, const struct uvk_value *value)
{
    return uvk_cell_name(lift->program, value);
}

/* ---- what has a name in the text -------------------------------------------------------- */

/* The row of the steps behind the run that begins at ROW. */
static uint16_t behind_run(const struct uvk_image *image, uint16_t row)
{
    while (uvk_image_step(image, row++).op != UVK_OP_END) {
    }
    return row;
}

/* The name of the macro that does what ROW does; NULL: the text has none. Macros stand in the
 * order of the text, each followed by its release part. */
static const char *macro_name(const struct lift *lift, uint16_t row)
{
    const struct uvk_keymap *keymap = lift->program->keymap;
    uint16_t at = 0;

    for (unsigned i = 0; lift->wanted != NULL && i < keymap->macro_count &&
                         at < lift->wanted->rows[UVK_TABLE_STEPS];
         i++) {
        if (uvk_same_action(lift->image, UVK_MAKE(UVK_MACRO, row), lift->wanted,
                            UVK_MAKE(UVK_MACRO, at))) {
            return keymap->macros[i].name;
        }
        at = behind_run(lift->wanted, at);
        at = keymap->macros[i].released != NULL ? behind_run(lift->wanted, at) : at;
    }
    return NULL;
}

static const char *dance_name(const struct lift *lift, uvk_action action)
{
    const struct uvk_keymap *keymap = lift->program->keymap;

    for (unsigned i = 0; lift->wanted != NULL && i < keymap->dance_count &&
                         i < lift->wanted->rows[UVK_TABLE_DANCES];
         i++) {
        if (uvk_same_action(lift->image, action, lift->wanted,
                            UVK_MAKE(UVK_HOLD, UVK_DANCE | i))) {
            return keymap->dances[i].name;
        }
    }
    return NULL;
}

const char *lift_feel_name(const struct lift *lift, const struct uvk_feel *feel)
{
    const struct uvk_keymap *keymap = lift->program->keymap;

    for (unsigned i = 0; lift->wanted != NULL && i < keymap->feel_count &&
                         i < lift->wanted->rows[UVK_TABLE_FEELS];
         i++) {
        struct uvk_feel own;
        uvk_image_feel(lift->wanted, (uint8_t)i, &own);
        if (uvk_same_feel(feel, &own)) {
            return keymap->feels[i].name;
        }
    }
    return NULL;
}

/* ---- feels, macros, dances: as blocks --------------------------------------------------- */

char *lift_feel(const struct uvk_feel *feel)
{
    GString *out = g_string_new(NULL);

    g_string_append_printf(out, "hold-after %ums", feel->hold_after);
    if (feel->flags & (UVK_FEEL_ON_PRESS | UVK_FEEL_ON_NESTED)) {
        g_string_append_printf(out, "; decide %s",
                               feel->flags & UVK_FEEL_ON_PRESS ? "on-press" : "on-nested");
    }
    if (feel->rest > 0) {
        g_string_append_printf(out, "; rest %ums", feel->rest);
    }
    if (feel->again > 0) {
        g_string_append_printf(out, "; again %ums", feel->again);
    }
    if (feel->flags & UVK_FEEL_ALONE_TAP) {
        g_string_append(out, "; alone tap");
    }
    if (feel->flags & UVK_FEEL_HAND) {
        g_string_append(out, "; other-hand");
    }
    return g_string_free(out, FALSE);
}

/* A text is typed by the host's layout; what it cannot be seen to type is told by its usage. */
static void append_typed(GString *out, const struct lift *lift, uint16_t row)
{
    GString *text = g_string_new(NULL);
    uint8_t kept = 0;
    uint8_t byte;
    char *quoted;

    while ((byte = uvk_image_text(lift->image, row)) != UVK_TEXT_END) {
        uint8_t usage = byte & (uint8_t)~UVK_TEXT_SHIFT;
        uint8_t mods = byte & UVK_TEXT_SHIFT ? UVK_MOD_SHIFT : 0;
        char *typed;
        row++;
        if (byte == UVK_TEXT_SAME) {
            continue;
        }
        if (byte == UVK_TEXT_KEEP) {
            kept = uvk_image_text(lift->image, row++);
            continue;
        }
        if (byte == UVK_TEXT_MODS) {
            mods = uvk_image_text(lift->image, row++);
            usage = uvk_image_text(lift->image, row++);
        }
        typed = usage == UVK_HID_ENTER ? g_strdup("\n")
                : usage == UVK_HID_TAB ? g_strdup("\t")
                : usage == UVK_HID_SPACE
                    ? g_strdup(" ")
                    : uvk_typed_text(lift->program, (uint8_t)(mods | kept), usage);
        g_string_append(text, typed);
        g_free(typed);
    }
    quoted = uvk_string_text(text->str);
    g_string_append_printf(out, "type %s", quoted);
    g_free(quoted);
    g_string_free(text, TRUE);
}

/* A press and the release of the same behind it are a tap. */
static uint16_t append_step(GString *out, const struct lift *lift, uint16_t row)
{
    struct uvk_macro_step step = uvk_image_step(lift->image, row);
    struct uvk_macro_step next;
    char *text;

    switch (step.op) {
    case UVK_OP_WAIT:
        g_string_append_printf(out, "wait %ums", step.operand);
        return 1;
    case UVK_OP_TYPE:
        append_typed(out, lift, step.operand);
        return 1;
    default:
        break;
    }
    next = uvk_image_step(lift->image, (uint16_t)(row + 1u));
    text = lift_text(lift, step.operand);
    if (step.op == UVK_OP_PRESS && next.op == UVK_OP_RELEASE && next.operand == step.operand) {
        g_string_append_printf(out, "tap %s", text);
    } else {
        g_string_append_printf(out, "%s %s", step.op == UVK_OP_PRESS ? "press" : "release",
                               text);
        next.op = UVK_OP_END;
    }
    g_free(text);
    return next.op == UVK_OP_RELEASE ? 2 : 1;
}

static void append_steps(GString *out, const struct lift *lift, uint16_t row)
{
    while (uvk_image_step(lift->image, row).op != UVK_OP_END) {
        g_string_append(out, out->len > 0 ? "; " : "");
        row = (uint16_t)(row + append_step(out, lift, row));
    }
}

/* What is done when the key comes up is said by the first step, and told last. */
char *lift_macro(const struct lift *lift, uint16_t row)
{
    struct uvk_macro_step first = uvk_image_step(lift->image, row);
    bool parts = first.op == UVK_OP_RELEASE_PART;
    GString *out = g_string_new(NULL);

    append_steps(out, lift, (uint16_t)(row + parts));
    if (parts) {
        char *part = lift_macro(lift, first.operand);
        g_string_append_printf(out, "%son-release { %s }", out->len > 0 ? "; " : "", part);
        g_free(part);
    }
    return g_string_free(out, FALSE);
}

char *lift_dance(const struct lift *lift, uvk_action action)
{
    struct uvk_dance dance;
    GString *out = g_string_new(NULL);

    uvk_image_dance(lift->image, uvk_action_row(action), &dance);
    for (unsigned i = 0; i < 2u * dance.taps; i++) {
        uvk_action line = uvk_image_line(lift->image, (uint16_t)(dance.first + i));
        char *text;
        if (line == UVK_SEE_THROUGH) {
            continue;
        }
        text = lift_text(lift, line);
        g_string_append(out, out->len > 0 ? "; " : "");
        for (unsigned tap = 0; tap < i / 2; tap++) {
            g_string_append(out, "tap ");
        }
        g_string_append_printf(out, "%s -> %s", i % 2 == 0 ? "tap" : "hold", text);
        g_free(text);
    }
    g_string_append_printf(out, "; within %ums", dance.within);
    return g_string_free(out, FALSE);
}

/* ---- names for what has none ------------------------------------------------------------ */

/* Is a thing of the text called so? */
static bool is_used(const struct uvk_program *program, const char *name)
{
    const struct uvk_keymap *keymap = program->keymap;
    bool used = false;

    for (unsigned i = 0; i < keymap->macro_count; i++) {
        used = used || strcmp(keymap->macros[i].name, name) == 0;
    }
    for (unsigned i = 0; i < keymap->dance_count; i++) {
        used = used || strcmp(keymap->dances[i].name, name) == 0;
    }
    for (unsigned i = 0; i < keymap->feel_count; i++) {
        used = used || strcmp(keymap->feels[i].name, name) == 0;
    }
    return used;
}

/* WHAT { LINES } gets a name, the same one each time. Freed with g_free. */
static char *name_for(const struct lift *lift, const char *what, const char *lines)
{
    char *block = g_strdup_printf(" { %s }", lines);
    char *name = NULL;

    for (guint i = 0; i < lift->news->len && name == NULL; i++) {
        const char *statement = lift->news->pdata[i];
        if (g_str_has_prefix(statement, what) && g_str_has_suffix(statement, block)) {
            const char *from = statement + strlen(what) + 1;
            name = g_strndup(from, strlen(from) - strlen(block));
        }
    }
    for (unsigned number = 1 + lift->news->len; name == NULL; number++) {
        char *next = g_strdup_printf("live-%s-%u", what, number);
        if (!is_used(lift->program, next)) {
            name = g_strdup(next);
            g_ptr_array_add(lift->news, g_strdup_printf("%s %s%s", what, name, block));
        }
        g_free(next);
    }
    g_free(block);
    return name;
}

/* ---- actions ---------------------------------------------------------------------------- */

static char *key_text(const struct lift *lift, uint8_t mods, uint16_t page, uint16_t usage)
{
    struct uvk_value value = usage_value(page, usage, 0);

    value.mods = mods;
    return value_text(lift, &value);
}

static char *chord_text(const struct lift *lift, uint16_t row)
{
    uint8_t mods;
    uvk_action action = uvk_image_chord(lift->image, row, &mods);
    char *held;
    char *text;
    char *both;

    if (uvk_action_kind(action) == UVK_KEY) {
        return key_text(lift, mods | uvk_action_mods(action), UVK_HID_PAGE_KEYBOARD,
                        uvk_action_what(action));
    }
    held = key_text(lift, mods, UVK_HID_PAGE_KEYBOARD, 0);
    text = lift_text(lift, action);
    both = g_strdup_printf("%s+%s", held, text);
    g_free(held);
    g_free(text);
    return both;
}

/* A feel without a name in the text is told in full: that is no text of the language yet. */
static char *hold_text(const struct lift *lift, uint16_t row)
{
    struct uvk_tap_hold both;
    struct uvk_feel feel;
    const char *name;
    char *tap_text;
    char *held_text;
    char *feel_text;
    char *given = NULL;
    char *text;

    uvk_image_hold(lift->image, row, &both);
    uvk_image_feel(lift->image, both.feel, &feel);
    name = lift_feel_name(lift, &feel);
    tap_text = lift_text(lift, both.tap);
    held_text = lift_text(lift, both.held);
    feel_text = lift_feel(&feel);
    if (name == NULL && lift->news != NULL) {
        given = name_for(lift, "feel", feel_text);
        name = given;
    }
    if (name == NULL) {
        text = g_strdup_printf("%s/%s~(%s)", tap_text, held_text, feel_text);
    } else if (feel.flags & UVK_FEEL_LONG) {
        text = g_strdup(tap_text); /* a plain key that `long-press` has made one */
    } else {
        bool usual = strcmp(name, "default") == 0;
        text = g_strdup_printf("%s/%s%s%s", tap_text, held_text, usual ? "" : "~",
                               usual ? "" : name);
    }
    g_free(tap_text);
    g_free(held_text);
    g_free(feel_text);
    g_free(given);
    return text;
}

static char *named_or(const struct lift *lift, const char *name, const char *what, char *lines)
{
    char *text = name != NULL         ? g_strdup(name)
                 : lift->news != NULL ? name_for(lift, what, lines)
                                      : g_strdup_printf("%s { %s }", what, lines);

    g_free(lines);
    return text;
}

char *lift_text(const struct lift *lift, uvk_action action)
{
    uint8_t what = uvk_action_what(action);
    uint8_t how = uvk_action_how(action);
    struct uvk_value value = {.kind = UVK_VALUE_NOTHING};

    if (action == UVK_SEE_THROUGH) {
        return g_strdup(".");
    }
    if (action == UVK_NOTHING) {
        return g_strdup("--");
    }
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return key_text(lift, uvk_action_mods(action), UVK_HID_PAGE_KEYBOARD, what);
    case UVK_CHORD:
        return chord_text(lift, uvk_action_value(action));
    case UVK_CONSUMER:
        return key_text(lift, 0, UVK_HID_PAGE_CONSUMER, uvk_action_value(action));
    case UVK_LAYER:
        if (what >= lift->program->keymap->layer_count) {
            return g_strdup_printf("layer %u", what); /* the text has not so many */
        }
        value = (struct uvk_value){.kind = UVK_VALUE_LAYER, .op = how, .layer = what};
        break;
    case UVK_MODS:
        value = (struct uvk_value){.kind = UVK_VALUE_MODS, .op = how, .mods = what};
        break;
    case UVK_DEVICE:
        value = device_value(how, what);
        break;
    case UVK_HOLD:
        return uvk_action_is_dance(action)
                   ? named_or(lift, dance_name(lift, action), "dance", lift_dance(lift, action))
                   : hold_text(lift, uvk_action_row(action));
    default:
        return named_or(lift, macro_name(lift, uvk_action_value(action)), "macro",
                        lift_macro(lift, uvk_action_value(action)));
    }
    return value_text(lift, &value);
}

bool uvk_live_has_action(const struct uvk_image *image, uvk_action action)
{
    uint16_t value = uvk_action_value(action);

    switch (uvk_action_kind(action)) {
    case UVK_CHORD:
        return value < image->rows[UVK_TABLE_CHORDS];
    case UVK_HOLD:
        return uvk_action_row(action) <
               image->rows[uvk_action_is_dance(action) ? UVK_TABLE_DANCES : UVK_TABLE_HOLDS];
    case UVK_MACRO:
        return value < image->rows[UVK_TABLE_STEPS];
    case UVK_LAYER:
        return uvk_action_what(action) < image->layers;
    default:
        return true;
    }
}

char *uvk_live_text(const struct uvk_program *program, const struct uvk_image *wanted,
                    const struct uvk_image *image, uvk_action action)
{
    struct lift lift = {program, image, wanted, NULL};

    return lift_text(&lift, action);
}
