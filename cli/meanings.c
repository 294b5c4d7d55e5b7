/* meanings.c - what a word means, whatever the program is. */
#include "explain.h"

#include "uvrek/hid.h"

#include <stdio.h>
#include <string.h>

static bool gives_key(const struct uvk_value *value, const void *data)
{
    const struct uvk_key_name *key = data;

    if (value->kind == UVK_VALUE_MODS) {
        return key->usage == 0 && value->mods == key->mods;
    }
    return value->kind == UVK_VALUE_USAGE && value->page == key->page &&
           value->usage == key->usage && value->turn == key->turn &&
           (key->mods == 0 || value->mods == key->mods);
}

#define CODE_MOST 999u

static bool explain_code(const struct asked *asked)
{
    char *end = NULL;
    guint64 code;

    if ((asked->word[0] != 'U' && asked->word[0] != 'u') || !g_ascii_isdigit(asked->word[1])) {
        return false;
    }
    code = g_ascii_strtoull(asked->word + 1, &end, 10);
    if (*end != '\0' || code > CODE_MOST || uvk_code_text((unsigned)code) == NULL) {
        return false;
    }
    printf("U%03u: %s\n", (unsigned)code, uvk_code_text((unsigned)code));
    print_wrapped(uvk_code_advice((unsigned)code), 2);
    return true;
}

void print_message_page(void)
{
    puts("# What the messages mean\n\n"
         "A message has a code, which stays the same for ever. `uvrek explain U021` says what "
         "stands here.\nThis page is what `uvrek explain --messages` prints.");
    for (unsigned code = 0; code <= CODE_MOST; code++) {
        if (uvk_code_text(code) != NULL) {
            printf("\n## U%03u\n\n*%s:* %s\n\n", code,
                   uvk_severity_text(uvk_code_severity(code)), uvk_code_text(code));
            print_wrapped(uvk_code_advice(code), 0);
        }
    }
}

static bool explain_key(const struct asked *asked)
{
    static const struct {
        uint16_t page;
        const char *name;
    } pages[] = {{UVK_HID_PAGE_DESKTOP, "generic desktop"},
                 {UVK_HID_PAGE_KEYBOARD, "keyboard"},
                 {UVK_HID_PAGE_BUTTON, "button"},
                 {UVK_HID_PAGE_CONSUMER, "consumer"},
                 {UVK_PAGE_OWN, "keyboard's own"}};
    const struct uvk_key_name *key = uvk_key_named(asked->word);
    const char *page = "";

    if (key == NULL) {
        return false;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(pages); i++) {
        page = pages[i].page == key->page ? pages[i].name : page;
    }
    if (key->usage == 0 && key->mods != 0) {
        printf("%s: a modifier, bit %u of a keyboard report\n", key->name,
               (unsigned)g_bit_nth_lsf(key->mods, -1));
    } else {
        printf("%s: a key, usage 0x%02X of the %s page (0x%02X)%s\n", key->name, key->usage,
               page, key->page,
               key->turn > 0   ? ", forward"
               : key->turn < 0 ? ", backward"
                               : "");
    }
    print_cells(asked, gives_key, key);
    return true;
}

/* Where a value comes from. */
static void print_set_in(struct uvk_place place)
{
    if (place.source != NULL) {
        printf("set in ");
        print_place(place);
        putchar('\n');
    } else {
        puts("as nothing sets it");
    }
}

static bool explain_setting(const struct asked *asked)
{
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        const struct uvk_setting_name *setting = &uvk_setting_names[i];
        const struct uvk_setting_text *set =
            keymap_of(asked) != NULL  ? &asked->program->keymap->settings[i]
            : board_of(asked) != NULL ? &asked->program->board->settings[i]
                                      : NULL;
        double scale = setting->unit == NULL ? 1000 : 1;
        const char *unit = setting->unit == NULL ? "ms" : "";
        char *sentence;
        if (strcmp(setting->name, asked->word) != 0 || i == UVK_SET_LEADER_WITHIN) {
            continue; /* the leader's time is written in its own block */
        }
        sentence = uvk_setting_sentence(setting);
        printf("%s: a setting, %s\n", setting->name, sentence);
        g_free(sentence);
        if (set != NULL) {
            printf("  here %g%s, ", set->value / scale, unit);
            print_set_in(set->place);
        }
        return true;
    }
    return false;
}

static bool explain_word(const struct asked *asked)
{
    bool known = false;
    size_t count;
    const struct uvk_word *words = uvk_words(&count);

    for (size_t i = 0; i < count; i++) {
        size_t length = strlen(words[i].name);
        bool prefix = words[i].name[length - 1] == ':' && strlen(asked->word) == length - 1 &&
                      strncmp(words[i].name, asked->word, length - 1) == 0;
        if (strcmp(words[i].name, asked->word) == 0 || prefix) {
            printf("%s%s %s\n", words[i].name, words[i].name[length - 1] == ':' ? "" : ":",
                   words[i].where);
            print_wrapped(words[i].what, 2);
            known = true;
        }
    }
    if (known) {
        (void)print_in_force(asked);
    }
    if (known && strcmp(asked->word, "unicode") == 0 && keymap_of(asked) != NULL) {
        printf("  here %s, ", keymap_of(asked)->by_number ? "on" : "off");
        print_set_in(keymap_of(asked)->by_number_place);
    }
    return known;
}

static bool explain_layout(const struct asked *asked)
{
    for (size_t i = 0; uvk_layout_names[i] != NULL; i++) {
        if (strcmp(uvk_layout_names[i], asked->word) == 0) {
            bool here = keymap_of(asked) != NULL &&
                        strcmp(keymap_of(asked)->layout_name, asked->word) == 0;
            printf("%s: a host's layout, behind host%s\n", asked->word,
                   here ? "; this keymap is for it" : "");
            return true;
        }
    }
    return false;
}

static const struct uvk_pin *pin_here(const struct uvk_board *board, const char *word)
{
    for (unsigned i = 0; board != NULL && i < board->pin_name_count; i++) {
        if (strcmp(board->pin_names[i].name, word) == 0) {
            return board->pin_names[i].pin;
        }
    }
    return board != NULL && board->chip != NULL ? uvk_chip_pin(board->chip, word) : NULL;
}

/* Where one controller reads both halves a pin is of one of them. */
static void print_wires_of(const struct uvk_board *board, unsigned half,
                           const struct uvk_pin *pin)
{
    if (!uvk_one_controller(board)) {
        (void)print_wire_of_pin(board, half, pin);
        return;
    }
    for (half = 0; half < board->half_count; half++) {
        (void)print_wire_of_pin(board, half, pin);
    }
}

static void print_pin_use(const struct uvk_board *board, const struct uvk_pin *pin)
{
    unsigned controllers = uvk_one_controller(board) ? 1 : board->half_count;

    for (unsigned half = 0; half < controllers; half++) {
        const char *use = uvk_pin_use(board, half, pin);
        printf("  %s%s%s\n", controllers > 1 ? board->halves[half].name : "here",
               use != NULL ? " it is used: " : " it is free", use != NULL ? use : "");
        print_wires_of(board, half, pin);
    }
}

static bool explain_pin(const struct asked *asked)
{
    const struct uvk_board *board = board_of(asked);
    bool known = false;
    size_t count;
    const struct uvk_chip *const *chips = uvk_chips(&count);

    if (board != NULL) {
        chips = &board->chip;
        count = 1;
    }
    for (size_t i = 0; i < count; i++) {
        const struct uvk_pin *pin =
            board != NULL ? pin_here(board, asked->word) : uvk_chip_pin(chips[i], asked->word);
        const struct uvk_reserved_pin *kept = chips[i]->reserved;
        while (kept->name != NULL && strcmp(kept->name, asked->word) != 0) {
            kept++;
        }
        if (kept->name != NULL) {
            printf("%s: a pin that the %s keeps for itself: %s\n", kept->name, chips[i]->title,
                   kept->why);
        } else if (pin != NULL) {
            printf("%s: pin %s of the %s, for a row, a column, a switch, a knob, a lamp\n"
                   "  also: %s\n",
                   asked->word, pin->name, chips[i]->title, pin->also);
        }
        if (board != NULL && pin != NULL && kept->name == NULL) {
            print_pin_use(board, pin);
        }
        known |= kept->name != NULL || pin != NULL;
    }
    return known;
}

static bool explain_chip(const struct asked *asked)
{
    const struct uvk_chip *chip = uvk_chip_named(asked->word);

    if (chip == NULL) {
        return false;
    }
    printf("%s: the chip %s, %zu pins, %u kB of flash, %g kB of RAM; bootloaders:", chip->name,
           chip->title, chip->pin_count, chip->flash / 1024, chip->ram / 1024.0);
    for (const char *const *boot = chip->boots; *boot != NULL; boot++) {
        printf(" %s", *boot);
    }
    putchar('\n');
    for (size_t i = 0; i < chip->pin_count; i++) {
        printf("  %-6s %s\n", chip->pins[i].name, chip->pins[i].also);
    }
    for (const struct uvk_reserved_pin *kept = chip->reserved; kept->name != NULL; kept++) {
        printf("  %-6s not for switches: %s\n", kept->name, kept->why);
    }
    return true;
}

static char *strokes_text(const struct uvk_stroke *strokes, unsigned count)
{
    GString *out = g_string_new(NULL);

    for (unsigned i = 0; i < count; i++) {
        struct uvk_value value = {.kind = UVK_VALUE_USAGE,
                                  .page = UVK_HID_PAGE_KEYBOARD,
                                  .mods = strokes[i].mods,
                                  .usage = strokes[i].usage};
        char *name = uvk_value_text(&value);
        g_string_append_printf(out, "%s%s", i > 0 ? ", then " : "", name);
        g_free(name);
    }
    return g_string_free(out, FALSE);
}

/* How CHARACTER is typed on a layout of SYSTEM: "shift+comma"; freed with g_free. */
static char *typed_on(enum uvk_system system, const char *name, gunichar character)
{
    struct uvk_layout *layout = uvk_layout_load(system, name);
    struct uvk_stroke strokes[UVK_SPELL_MAX];
    unsigned count = layout != NULL ? uvk_layout_spell(layout, character, strokes) : 0;
    char *text = count > 0             ? strokes_text(strokes, count)
                 : system == UVK_LINUX ? g_strdup("no keys type it")
                                       : g_strdup("not known");

    uvk_layout_free(layout);
    return text;
}

/* Once, if it is the same on every system. */
static void explain_character_on(gunichar character, const char *name)
{
    char *texts[3];

    for (unsigned i = 0; i < G_N_ELEMENTS(texts); i++) {
        texts[i] = typed_on((enum uvk_system)i, name, character);
    }
    if (strcmp(texts[0], texts[1]) == 0 && strcmp(texts[0], texts[2]) == 0) {
        printf("  %-8s %s\n", name, texts[0]);
    } else {
        printf("  %-8s linux: %s; windows: %s; mac: %s\n", name, texts[0], texts[1], texts[2]);
    }
    for (unsigned i = 0; i < G_N_ELEMENTS(texts); i++) {
        g_free(texts[i]);
    }
}

/* How each layout types a character. */
static bool explain_character(const struct asked *asked)
{
    gunichar character = g_utf8_get_char(asked->word);

    if (g_utf8_strlen(asked->word, -1) != 1 || !g_unichar_isgraph(character)) {
        return false;
    }
    printf("'%s': the character U+%04X\n", asked->word, character);
    for (size_t i = 0; uvk_layout_names[i] != NULL; i++) {
        explain_character_on(character, uvk_layout_names[i]);
    }
    return true;
}

static bool (*const kinds[])(const struct asked *) = {
    explain_code, explain_layer,  explain_own,      explain_address, explain_knob,
    explain_key,  explain_word,   explain_setting,  explain_pin,     explain_wire,
    explain_chip, explain_layout, explain_character};

bool print_meanings(const struct asked *asked)
{
    bool known = false;

    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        known |= kinds[i](asked);
    }
    return known || explain_cell(asked);
}
