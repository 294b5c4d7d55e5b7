/* settings.c - set NAME VALUE in a board or a keymap; the keymap wins. */
#include "reading.h"

#include <string.h>

#define MS 1000.0

const struct uvk_setting_name uvk_setting_names[UVK_SETTINGS] = {
    [UVK_SET_DEBOUNCE] = {"debounce", "a contact is open this long before a release counts",
                          NULL, 0, UVK_DEBOUNCE_MAX *MS, 5 * MS},
    [UVK_SET_ONCE_FOR] = {"once-for", "how long a `once` waits for the next key", NULL,
                          UVK_ONCE_FOR_MIN *MS, UVK_ONCE_FOR_MAX *MS, 1000 * MS},
    [UVK_SET_LEADER_WITHIN] = {"leader-within", "from one key of a leader sequence to the next",
                               NULL, UVK_LEADER_WITHIN_MIN *MS, UVK_LEADER_WITHIN_MAX *MS,
                               1000 * MS},
    [UVK_SET_POINTER_SPEED] = {"pointer-speed", "how fast the pointer moves, once it is fast",
                               "counts a second", UVK_POINTER_SPEED_MIN, UVK_POINTER_SPEED_MAX,
                               800},
    [UVK_SET_POINTER_RAMP] = {"pointer-ramp", "from rest to that speed", NULL, 0,
                              UVK_POINTER_RAMP_MAX *MS, 400 * MS},
    [UVK_SET_WHEEL_SPEED] = {"wheel-speed",
                             "how fast a wheel turns while its key is held; 0 for once",
                             "notches a second", 0, UVK_WHEEL_SPEED_MAX, 10},
    [UVK_SET_TYPE_PACE] = {"type-pace", "from one character that a macro types to the next",
                           NULL, 0, UVK_TYPE_PACE_MAX *MS, 0},
    [UVK_SET_PRESS_AFTER] = {"press-after",
                             "a contact is closed this long before a press counts", NULL, 0,
                             UVK_PRESS_AFTER_MAX *MS, 0},
    [UVK_SET_LIGHT_STEP] = {"light-step", "how far light:up and light:down go", "levels", 1,
                            UVK_LEVELS_MAX, 1},
};

const struct uvk_setting_name *uvk_setting_named(const char *name)
{
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        if (strcmp(uvk_setting_names[i].name, name) == 0) {
            return &uvk_setting_names[i];
        }
    }
    return NULL;
}

/* The settings that `set` can name; the leader's time is written in its own block. */
static bool can_be_set(unsigned index)
{
    return index != UVK_SET_LEADER_WITHIN;
}

static const char *setting_name(size_t index, const void *data)
{
    (void)data;
    return can_be_set((unsigned)index) ? uvk_setting_names[index].name : "";
}

static int setting_named(struct reading *reading, const struct uvk_node *node)
{
    GString *all = g_string_new(NULL);
    char *fix;

    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        if (can_be_set(i) && strcmp(uvk_setting_names[i].name, node->text) == 0) {
            g_string_free(all, TRUE);
            return (int)i;
        }
        g_string_append_printf(all, "%s%s", all->len > 0 && can_be_set(i) ? ", " : "",
                               setting_name(i, NULL));
    }
    g_string_append(all, ", unicode");
    fix = did_you_mean(node->text, UVK_SETTINGS, setting_name, NULL);
    uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, fix,
            "unknown setting; choose from: %s", all->str);
    g_free(fix);
    g_string_free(all, TRUE);
    return -1;
}

static bool want_value(struct reading *reading, const struct uvk_node *statement,
                       const struct uvk_setting_name *setting, double *value)
{
    if (setting->unit == NULL) {
        return want_time(reading, want(reading, statement, 2, UVK_NODE_TIME, "a time"),
                         setting->least, setting->most, value);
    }
    return want_number(reading, want(reading, statement, 2, UVK_NODE_NUMBER, setting->unit),
                       setting->least, setting->most, setting->name, value);
}

/* set unicode on | off */
static void read_unicode(struct reading *reading, const struct uvk_node *statement)
{
    static const char *const words[] = {"off", "on", NULL};
    int word = want_word(reading, want(reading, statement, 2, UVK_NODE_NAME, "on or off"),
                         UVK_SAYS_EXPECTED, words, "choice");

    if (reading->keymap == NULL) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, item(statement, 1)->place, NULL,
                "'unicode' is about the host: it is for keymaps");
    } else if (word >= 0) {
        if (reading->keymap->by_number_place.source != NULL) {
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, item(statement, 1)->place,
                                  NULL, "'unicode' is set already"),
                          reading->keymap->by_number_place);
        }
        reading->keymap->by_number = word == 1;
        reading->keymap->by_number_place = statement->place;
        want_end(reading, statement, 3);
    }
}

/* Has this block set it? What a keymap takes from its board, it may set itself. */
static bool is_set_here(const struct reading *reading, const struct uvk_setting_text *setting)
{
    for (unsigned i = 0; reading->keymap != NULL && reading->board != NULL && i < UVK_SETTINGS;
         i++) {
        const struct uvk_place *board = &reading->board->settings[i].place;
        if (setting->place.source == board->source && setting->place.at == board->at) {
            return false;
        }
    }
    return setting->place.source != NULL;
}

void read_set(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a setting");
    struct uvk_setting_text *settings;
    int index;
    double value;

    (void)subject;
    if (name == NULL || (reading->board == NULL && reading->keymap == NULL)) {
        return;
    }
    if (strcmp(name->text, "unicode") == 0) {
        read_unicode(reading, statement);
        return;
    }
    index = setting_named(reading, name);
    if (index < 0 || !want_value(reading, statement, &uvk_setting_names[index], &value)) {
        return;
    }
    want_end(reading, statement, 3);
    settings = reading->keymap != NULL ? reading->keymap->settings : reading->board->settings;
    if (is_set_here(reading, &settings[index])) {
        uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                              "'%s' is set already", name->text),
                      settings[index].place);
    }
    settings[index].value = value;
    settings[index].place = statement->place;
}

void usual_settings(struct uvk_setting_text *settings)
{
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        settings[i].value = uvk_setting_names[i].usual;
    }
}
