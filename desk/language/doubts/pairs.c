/* pairs.c - combos of two letters that follow one another in ordinary text: whoever types them
 * fast, one before the other is up, gets the combo instead. */
#include "reading.h"

#include "uvrek/hid.h"
#include "uvrek/ways.h"

#include <string.h>

/* The pairs of letters that a language has most of: each is about one in 200 or more. */
static const struct language {
    const char *name;
    const char *layouts; /* of hosts */
    const char *pairs;
} languages[] = {
    {"English", "us uk dvorak colemak",
     "th he in er an re on at en nd ti es or te of ed is it al ar st to nt ng se ha as ou io "
     "le "
     "ve co me de hi ri ro ic ne ea ra ce li ch ll be ma si om ur"},
    {"German", "de",
     "en er ch de ei nd te in ie ge es ne un st re he an be se ng di sc au it ic is le da li "
     "si "
     "al ra el me ti ma so nt ns ss"},
    {"French", "fr",
     "es le en de re nt on er te an ai la el ou ti me qu et se is us it pa ur em ra ne co in "
     "st "
     "ie eu ce au un ta li ar ns"},
    {"Spanish", "es",
     "de es en el la os ar ue re er as on st ad al or ta an co te do se ci nt qu ra io lo ro "
     "no "
     "ca un na in tr ti ac me"},
    {"Italian", "it",
     "er re in on di an ti ra co to no al el la or te ne ri le at ta en de si ro il li ar ce "
     "st "
     "es ch io it ia nt ni se tr"},
    {"Portuguese", "pt",
     "de os es ra as do en ar co er te nt re or ta an da ad se st ro al ma me to qu in em no "
     "es "
     "is ri ca ao am po un ue"},
    {"Swedish", "se",
     "en er de an ar et ra tt st te in ng at om ör ll nd or ta ti re ka il sk ma ve la me av "
     "sa "
     "ha ch og är fö li el ns"},
};

/* Rolls over letters that somebody types a thousand times a day are seldom faster. */
#define ROLL_US 30000.0

/* Is WORD among WORDS, which are parted by spaces? */
static bool has_word(const char *words, const char *word)
{
    size_t length = strlen(word);
    const char *at = words;

    while ((at = strstr(at, word)) != NULL &&
           !((at == words || at[-1] == ' ') && (at[length] == ' ' || at[length] == '\0'))) {
        at++;
    }
    return at != NULL;
}

static const struct language *language_of(const struct uvk_keymap *keymap)
{
    for (size_t i = 0; i < G_N_ELEMENTS(languages); i++) {
        if (has_word(languages[i].layouts, keymap->layout_name)) {
            return &languages[i];
        }
    }
    return NULL;
}

/* What a tap of KEY types on LAYER, if it is one letter; else NULL. Freed with g_free. */
static char *letter_on(const struct reading *reading, unsigned layer, unsigned key)
{
    const struct uvk_value *value = uvk_value_tap(&reading->keymap->layers[layer].cells[key]);
    char *text;

    if (value->kind != UVK_VALUE_USAGE || value->page != UVK_HID_PAGE_KEYBOARD ||
        value->mods != 0) {
        return NULL;
    }
    text = uvk_typed_text(reading->program, 0, (uint8_t)value->usage);
    if (g_utf8_strlen(text, -1) != 1 || !g_unichar_isalpha(g_utf8_get_char(text))) {
        g_clear_pointer(&text, g_free);
    }
    return text;
}

/* The pair that the keys of COMBO type on LAYER, if the language has it often. Freed with
 * g_free. */
static char *pair_on(const struct reading *reading, const struct language *language,
                     const struct uvk_combo_text *combo, unsigned layer)
{
    char *one = letter_on(reading, layer, combo->keys[0]);
    char *two = letter_on(reading, layer, combo->keys[1]);
    char *pair = one != NULL && two != NULL ? g_strconcat(one, two, NULL) : NULL;

    if (pair != NULL && !has_word(language->pairs, pair)) {
        g_free(pair);
        pair = g_strconcat(two, one, NULL);
    }
    if (pair != NULL && !has_word(language->pairs, pair)) {
        g_clear_pointer(&pair, g_free);
    }
    g_free(one);
    g_free(two);
    return pair;
}

void doubt_pairs(struct reading *reading, const struct uvk_combo_text *combo)
{
    const struct uvk_keymap *keymap = reading->keymap;
    const struct language *language = language_of(keymap);
    char *pair = NULL;

    if (language == NULL || combo->key_count != 2 || combo->within <= ROLL_US) {
        return;
    }
    for (unsigned layer = 0; layer < keymap->layer_count && pair == NULL; layer++) {
        if (uvk_combo_is_on(combo, layer)) {
            pair = pair_on(reading, language, combo, layer);
        }
    }
    if (pair != NULL) {
        uvk_say(reading->messages, UVK_SAYS_FREQUENT_PAIR, combo->place,
                "`within 25ms`, other keys, or `on` a layer without letters",
                "\"%s\" is frequent in %s: typed fast, within %g ms, it becomes this combo",
                pair, language->name, combo->within / 1000);
    }
    g_free(pair);
}
