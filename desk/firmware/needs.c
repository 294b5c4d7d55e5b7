/* needs.c - what building and flashing need of this machine. */
#include "parts.h"

#include <string.h>

/* A program that tells its version, or a file that a package brings. */
static const struct known {
    const char *name, *what, *package;
    const char *chip;           /* NULL: for all */
    const char *const *command; /* prints its version; NULL: it is a file */
    const char *file;
    const char *version_file, *version_behind; /* the version follows these words there */
} known[] = {
    {"avr-gcc", "compiles for the ATmega32U4", "gcc-avr", "atmega32u4",
     (const char *const[]){"avr-gcc", "--version", NULL}, NULL, NULL, NULL},
    {"avr-ld", "links for the ATmega32U4", "binutils-avr", "atmega32u4",
     (const char *const[]){"avr-ld", "--version", NULL}, NULL, NULL, NULL},
    {"avr-libc", "headers and start code of the ATmega32U4", "avr-libc", "atmega32u4", NULL,
     "/usr/lib/avr/include/avr/iom32u4.h", "/usr/lib/avr/include/avr/version.h",
     "define __AVR_LIBC_VERSION_STRING__ \""},
    {"arm-none-eabi-gcc", "compiles for the RP2040", "gcc-arm-none-eabi", "rp2040",
     (const char *const[]){"arm-none-eabi-gcc", "--version", NULL}, NULL, NULL, NULL},
    {"arm-none-eabi-ld", "links for the RP2040", "binutils-arm-none-eabi", "rp2040",
     (const char *const[]){"arm-none-eabi-ld", "--version", NULL}, NULL, NULL, NULL},
    {"newlib", "headers and memory functions of the RP2040", "libnewlib-arm-none-eabi",
     "rp2040", NULL, "/usr/include/newlib/string.h", "/usr/include/newlib/_newlib_version.h",
     "define _NEWLIB_VERSION \""},
    {"xkb-data", "the layouts of host systems", "xkb-data", NULL, NULL,
     "/usr/share/X11/xkb/symbols/us", "/usr/share/pkgconfig/xkeyboard-config.pc", "Version: "},
    {"libx11-data", "what hosts make of dead keys", "libx11-data", NULL, NULL,
     "/usr/share/X11/locale/en_US.UTF-8/Compose", NULL, NULL},
};

#define SECONDS_MOST 20u /* for a program to say its version */

/* The last word like 12.2.1 in the first line that COMMAND prints; NULL if it fails. */
static char *version_of(const char *const *command)
{
    char *output = NULL;
    char *version = NULL;

    if (process_run(command, NULL, NULL, SECONDS_MOST, &output, NULL)) {
        char **lines = g_strsplit(output, "\n", 2);
        char **words = g_strsplit(lines[0] != NULL ? lines[0] : "", " ", -1);
        for (char **word = words; *word != NULL; word++) {
            if (g_ascii_isdigit(**word) && strchr(*word, '.') != NULL) {
                g_free(version);
                version = g_strdup(*word);
            }
        }
        version = version != NULL ? version : g_strdup("?");
        g_strfreev(words);
        g_strfreev(lines);
    }
    g_free(output);
    return version;
}

/* What stands behind WORDS in a file, up to a quote or the end of the line. */
static char *version_in(const char *file, const char *words)
{
    char *text = NULL;
    const char *found;
    char *version = NULL;

    if (!g_file_get_contents(file, &text, NULL, NULL)) {
        return NULL;
    }
    found = strstr(text, words);
    if (found != NULL) {
        found += strlen(words);
        version = g_strndup(found, strcspn(found, "\"\n"));
    }
    g_free(text);
    return version;
}

static void free_need(gpointer data)
{
    g_free(((struct uvk_need *)data)->version);
}

GArray *uvk_needs(const struct uvk_chip *chip)
{
    GArray *needs = g_array_new(FALSE, TRUE, sizeof(struct uvk_need));

    g_array_set_clear_func(needs, free_need);
    for (size_t i = 0; i < G_N_ELEMENTS(known); i++) {
        struct uvk_need need = {known[i].name, known[i].what, known[i].package, false, NULL};
        if (chip != NULL && known[i].chip != NULL && strcmp(known[i].chip, chip->name) != 0) {
            continue;
        }
        if (known[i].command != NULL) {
            need.version = version_of(known[i].command);
            need.there = need.version != NULL;
        } else {
            need.there = g_file_test(known[i].file, G_FILE_TEST_EXISTS);
            need.version = need.there && known[i].version_file != NULL
                               ? version_in(known[i].version_file, known[i].version_behind)
                               : NULL;
        }
        g_array_append_val(needs, need);
    }
    return needs;
}

void uvk_needs_free(GArray *needs)
{
    g_array_free(needs, TRUE);
}
