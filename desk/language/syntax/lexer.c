/* lexer.c - cut a text into words. Its bytes are valid UTF-8 already. */
#include "lexer.h"

#include <stdarg.h>
#include <string.h>

static struct uvk_place place_from(const struct lexer *lexer, const char *start)
{
    struct uvk_place place = {lexer->source, (uint32_t)(start - lexer->source->text),
                              (uint32_t)(lexer->at - start)};
    return place;
}

/* Say what is wrong, unless the parser is already skipping a broken statement. */
static void complain(const struct lexer *lexer, enum uvk_code code, struct uvk_place place,
                     const char *fix, const char *format, ...) G_GNUC_PRINTF(5, 6);

static void complain(const struct lexer *lexer, enum uvk_code code, struct uvk_place place,
                     const char *fix, const char *format, ...)
{
    va_list arguments;
    char *text;

    if (lexer->muted) {
        return;
    }
    va_start(arguments, format);
    text = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    uvk_say(lexer->messages, code, place, fix, "%s", text);
    g_free(text);
}

static struct token token_from(const struct lexer *lexer, enum token_kind kind,
                               const char *start)
{
    struct token token = {.kind = kind, .place = place_from(lexer, start)};
    return token;
}

static bool is_name_char(char c)
{
    return g_ascii_isalnum(c) || c == '-';
}

#define COLOUR_LENGTH 7u

/* #ff8800: exactly six digits; any other # begins a comment. */
static bool at_colour(const struct lexer *lexer)
{
    for (size_t i = 1; i < COLOUR_LENGTH; i++) {
        if (!g_ascii_isxdigit(lexer->at[i])) {
            return false;
        }
    }
    return !is_name_char(lexer->at[COLOUR_LENGTH]);
}

/* Skip blanks and comments. True if there were any. */
static bool skip_blanks(struct lexer *lexer)
{
    const char *start = lexer->at;

    for (;;) {
        lexer->at += strspn(lexer->at, " \t\r");
        if (*lexer->at != '#' || at_colour(lexer)) {
            return lexer->at > start;
        }
        lexer->at += strcspn(lexer->at, "\n");
    }
}

static struct token lex_name(struct lexer *lexer)
{
    const char *start = lexer->at;
    struct token token;

    while (is_name_char(*lexer->at)) {
        lexer->at++;
    }
    while (lexer->at[-1] == '-') {
        lexer->at--;
    }
    token = token_from(lexer, TOKEN_NAME, start);
    if (token.place.length > UVK_NAME_MAX) {
        complain(lexer, UVK_SAYS_NAME_TOO_LONG, token.place, NULL,
                 "a name of %u characters; a name has at most %u", token.place.length,
                 UVK_NAME_MAX);
        token.kind = TOKEN_BAD;
        return token;
    }
    token.text = uvk_arena_text(lexer->arena, start, token.place.length);
    return token;
}

/* The whole word from START, for a message about a number. */
static struct token bad_number(struct lexer *lexer, const char *start, const char *why)
{
    struct token token;

    while (is_name_char(*lexer->at) || *lexer->at == '.') {
        lexer->at++;
    }
    token = token_from(lexer, TOKEN_BAD, start);
    complain(lexer, UVK_SAYS_BAD_NUMBER, token.place, NULL, "'%.*s' is no number: %s",
             (int)MIN(token.place.length, UVK_NAME_MAX), start, why);
    return token;
}

static double decimal(struct lexer *lexer)
{
    double value = 0;
    double unit = 1;

    for (; g_ascii_isdigit(*lexer->at); lexer->at++) {
        value = value * 10 + (*lexer->at - '0');
    }
    if (*lexer->at == '.' && g_ascii_isdigit(lexer->at[1])) {
        for (lexer->at++; g_ascii_isdigit(*lexer->at); lexer->at++) {
            unit /= 10;
            value += unit * (*lexer->at - '0');
        }
    }
    return value;
}

static double hexadecimal(struct lexer *lexer)
{
    double value = 0;

    for (lexer->at += 2; g_ascii_isxdigit(*lexer->at); lexer->at++) {
        value = value * 16 + g_ascii_xdigit_value(*lexer->at);
    }
    return value;
}

/* A unit of time directly behind a number, in microseconds; 0 if there is none. */
static double time_unit(struct lexer *lexer)
{
    static const struct {
        const char *name;
        double microseconds;
    } units[] = {{"us", 1}, {"ms", 1000}, {"s", 1000000}};

    for (size_t i = 0; i < G_N_ELEMENTS(units); i++) {
        size_t length = strlen(units[i].name);
        if (strncmp(lexer->at, units[i].name, length) == 0 &&
            !is_name_char(lexer->at[length])) {
            lexer->at += length;
            return units[i].microseconds;
        }
    }
    return 0;
}

static struct token lex_number(struct lexer *lexer)
{
    const char *start = lexer->at;
    enum token_kind kind = TOKEN_NUMBER;
    double sign = *lexer->at == '-' ? -1 : 1;
    double value;
    double second = 0;
    double unit;
    struct token token;

    lexer->at += sign < 0;
    if (lexer->at[0] == '0' && lexer->at[1] == 'x' && g_ascii_isxdigit(lexer->at[2])) {
        value = hexadecimal(lexer);
    } else {
        value = decimal(lexer);
        if (*lexer->at == 'x' && g_ascii_isdigit(lexer->at[1])) {
            lexer->at++;
            second = decimal(lexer);
            kind = TOKEN_SIZE;
        } else if ((unit = time_unit(lexer)) > 0) {
            value *= unit;
            kind = TOKEN_TIME;
        } else if (*lexer->at == '%') {
            lexer->at++;
            kind = TOKEN_PERCENT;
        } else if (strncmp(lexer->at, "mA", 2) == 0 && !is_name_char(lexer->at[2])) {
            lexer->at += 2;
            kind = TOKEN_CURRENT;
        }
    }
    if (g_ascii_isalpha(*lexer->at)) {
        return bad_number(lexer, start, "the units are us, ms, s and mA");
    }
    if (value > 1e15) {
        return bad_number(lexer, start, "it is too large");
    }
    token = token_from(lexer, kind, start);
    token.number = sign * value;
    token.second = second;
    token.text = uvk_arena_text(lexer->arena, start, token.place.length);
    return token;
}

/* \u{e9}; the lexer stands on the 'u'. 0 if it is not one. */
static gunichar lex_unicode(struct lexer *lexer)
{
    gunichar value = 0;
    int digits = 0;

    if (lexer->at[1] != '{') {
        return 0;
    }
    for (lexer->at += 2; g_ascii_isxdigit(*lexer->at) && digits < 6; lexer->at++, digits++) {
        value = value * 16 + (gunichar)g_ascii_xdigit_value(*lexer->at);
    }
    return *lexer->at == '}' && g_unichar_validate(value) ? value : 0;
}

/* An escape; the lexer stands on the backslash and ends behind it. */
static bool lex_escape(struct lexer *lexer, GString *out)
{
    static const char plain[] = "nt\\\"'";
    static const char meaning[] = "\n\t\\\"'";
    const char *start = lexer->at++;
    const char *found = *lexer->at != '\0' ? strchr(plain, *lexer->at) : NULL;
    gunichar unicode = 0;

    if (found != NULL) {
        g_string_append_c(out, meaning[found - plain]);
        lexer->at++;
        return true;
    }
    if (*lexer->at == 'u' && (unicode = lex_unicode(lexer)) != 0) {
        g_string_append_unichar(out, unicode);
        lexer->at++;
        return true;
    }
    if (lexer->at == start + 1 && *lexer->at != '\0' && *lexer->at != '\n') {
        lexer->at = g_utf8_next_char(lexer->at);
    }
    complain(lexer, UVK_SAYS_BAD_ESCAPE, place_from(lexer, start),
             "write \\n, \\t, \\\\, \\\", \\' or \\u{e9}", "no such escape");
    return false;
}

static struct token lex_quoted(struct lexer *lexer)
{
    const char *start = lexer->at;
    char quote = *lexer->at++;
    GString *out = g_string_new(NULL);
    bool good = true;
    struct token token;

    while (*lexer->at != quote && *lexer->at != '\n' && *lexer->at != '\0') {
        if (*lexer->at == '\\') {
            good = lex_escape(lexer, out) && good;
        } else {
            const char *next = g_utf8_next_char(lexer->at);
            g_string_append_len(out, lexer->at, next - lexer->at);
            lexer->at = next;
        }
    }
    if (*lexer->at != quote) {
        complain(lexer, UVK_SAYS_NO_CLOSING_QUOTE, place_from(lexer, start), NULL,
                 "no closing %c before the end of the line", quote);
        good = false;
    } else {
        lexer->at++;
    }
    token = token_from(lexer, quote == '"' ? TOKEN_STRING : TOKEN_CHARACTER, start);
    if (good && quote == '\'' && g_utf8_strlen(out->str, -1) != 1) {
        complain(lexer, UVK_SAYS_EXPECTED, token.place, "text stands in \"double quotes\"",
                 "one character belongs between single quotes");
        good = false;
    }
    token.kind = good ? token.kind : TOKEN_BAD;
    token.text = uvk_arena_text(lexer->arena, out->str, out->len);
    g_string_free(out, TRUE);
    return token;
}

/* Signs that word processors put for others. */
static const struct {
    gunichar character;
    const char *fix;
} lookalikes[] = {
    {0x2018, "a character stands between straight quotes: '?'"},
    {0x2019, "a character stands between straight quotes: '?'"},
    {0x201C, "text stands between straight quotes: \"...\""},
    {0x201D, "text stands between straight quotes: \"...\""},
    {0x2010, "a hyphen is meant: '-'"},
    {0x2011, "a hyphen is meant: '-'"},
    {0x2013, "a hyphen is meant: '-'"},
    {0x2212, "a hyphen is meant: '-'"},
    {0x2192, "an arrow is two signs: '->'"},
};

/* What could be written instead of the character at START; NULL: no idea. Freed with g_free. */
static char *fix_of(gunichar character, const char *start, int length)
{
    for (size_t i = 0; i < G_N_ELEMENTS(lookalikes); i++) {
        if (lookalikes[i].character == character) {
            return g_strdup(lookalikes[i].fix);
        }
    }
    return g_unichar_isgraph(character)
               ? g_strdup_printf("a sign that is typed stands in quotes: '%.*s'", length, start)
               : NULL;
}

static struct token meaningless(struct lexer *lexer, const char *start)
{
    struct token token = token_from(lexer, TOKEN_BAD, start);
    gunichar character = g_utf8_get_char(start);
    int length = (int)token.place.length;

    if (character < 0x20 || character == 0x7F) {
        complain(lexer, UVK_SAYS_BAD_CHARACTER, token.place, NULL,
                 "a control character (0x%02X)", (unsigned)character);
    } else if (g_unichar_isspace(character)) {
        complain(lexer, UVK_SAYS_BAD_CHARACTER, token.place, "type a plain space",
                 "a space of another kind, U+%04X", character);
    } else {
        char *fix = fix_of(character, start, length);
        complain(lexer, UVK_SAYS_BAD_CHARACTER, token.place, fix, "'%.*s' means nothing here",
                 length, start);
        g_free(fix);
    }
    return token;
}

static struct token lex_sign(struct lexer *lexer)
{
    static const struct {
        char text[3];
        enum token_kind kind;
    } signs[] = {
        {"->", TOKEN_ARROW},    {"--", TOKEN_NOTHING},   {"\n", TOKEN_LINE},
        {";", TOKEN_SEMICOLON}, {"{", TOKEN_OPEN_BLOCK}, {"}", TOKEN_CLOSE_BLOCK},
        {"(", TOKEN_OPEN},      {")", TOKEN_CLOSE},      {",", TOKEN_COMMA},
        {".", TOKEN_DOT},       {"+", TOKEN_PLUS},       {"/", TOKEN_SLASH},
        {"*", TOKEN_STAR},      {"=", TOKEN_EQUALS},     {":", TOKEN_COLON},
        {"~", TOKEN_TILDE},     {"<", TOKEN_LESS},       {"|", TOKEN_BAR},
    };
    const char *start = lexer->at;

    for (size_t i = 0; i < G_N_ELEMENTS(signs); i++) {
        size_t length = strlen(signs[i].text);
        if (strncmp(start, signs[i].text, length) == 0) {
            lexer->at += length;
            return token_from(lexer, signs[i].kind, start);
        }
    }
    lexer->at = g_utf8_next_char(start);
    return meaningless(lexer, start);
}

static struct token lex_colour(struct lexer *lexer)
{
    const char *start = lexer->at;
    double value = 0;
    struct token token;

    for (lexer->at++; lexer->at < start + COLOUR_LENGTH; lexer->at++) {
        value = value * 16 + g_ascii_xdigit_value(*lexer->at);
    }
    token = token_from(lexer, TOKEN_COLOUR, start);
    token.number = value;
    token.text = uvk_arena_text(lexer->arena, start, token.place.length);
    return token;
}

static struct token lex_one(struct lexer *lexer)
{
    char c = *lexer->at;

    if (c == '\0') {
        return token_from(lexer, TOKEN_END, lexer->at);
    }
    if (g_ascii_isalpha(c)) {
        return lex_name(lexer);
    }
    if (g_ascii_isdigit(c) || (c == '-' && g_ascii_isdigit(lexer->at[1]))) {
        return lex_number(lexer);
    }
    if (c == '"' || c == '\'') {
        return lex_quoted(lexer);
    }
    if (c == '#') {
        return lex_colour(lexer);
    }
    return lex_sign(lexer);
}

struct token lexer_next(struct lexer *lexer)
{
    bool after_space = skip_blanks(lexer);
    struct token token = lex_one(lexer);

    token.after_space = after_space;
    return token;
}
