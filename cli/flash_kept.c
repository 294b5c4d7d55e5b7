/* flash_kept.c - what `uvrek flash` asks the chip before it writes, and the files that it
 * keeps. */
#include "flashing.h"

#include "uvrek/files.h"
#include "uvrek/formats.h"

#include <stdio.h>
#include <string.h>

/* ---- a copy of what is in the chip ------------------------------------------------------ */

static bool fail(GError **error, enum uvk_problem problem, const char *what)
{
    g_set_error_literal(error, UVK_PROBLEM, problem, what);
    return false;
}

bool can_save(const char *path, const struct uvk_chip *chip, GError **error)
{
    bool uf2 = g_str_has_suffix(path, ".uf2");

    if (!uf2 && !g_str_has_suffix(path, ".hex") && !g_str_has_suffix(path, ".bin")) {
        return fail(error, UVK_NOT_DONE, "a copy is a .hex, .bin or .uf2 file: name it so");
    }
    return !uf2 || chip->uf2_family != 0 ||
           fail(error, UVK_NOT_DONE, "there are no .uf2 files for this chip");
}

static bool save(const char *path, const struct uvk_chip *chip, const uint8_t *code,
                 size_t size, GError **error)
{
    char *text = NULL;
    uint8_t *blocks = NULL;
    const void *bytes = code;
    size_t count = size;
    bool good;

    if (g_str_has_suffix(path, ".hex")) {
        text = uvk_hex_write(code, size);
        bytes = text;
        count = strlen(text);
    } else if (g_str_has_suffix(path, ".uf2")) {
        blocks = uvk_uf2_write(code, size, chip->flash_at, chip->uf2_family, &count);
        bytes = blocks;
    }
    good = uvk_file_write(path, bytes, count, error);
    g_free(text);
    g_free(blocks);
    return good;
}

/* ---- before it is written --------------------------------------------------------------- */

bool is_of_other_board(const struct errand *errand, const uint8_t *code, size_t size)
{
    struct uvk_note note;

    return errand->board != NULL && code != NULL && uvk_note_find(code, size, &note) &&
           strcmp(note.board, errand->board) != 0;
}

/* A chip that holds the firmware of another board sits on another board. */
static bool is_for_board(const struct errand *errand, const uint8_t *code, size_t size,
                         GError **error)
{
    struct uvk_note note;

    if (!is_of_other_board(errand, code, size)) {
        return true;
    }
    (void)uvk_note_find(code, size, &note);
    g_set_error(
        error, UVK_PROBLEM, UVK_NOT_DONE,
        "the chip holds the keymap %s for the board %s, and this is for %s; nothing was "
        "written. If that is meant, add --other-board",
        note.keymap, note.board, errand->board);
    return false;
}

bool look_before(const struct errand *errand, const struct wishes *wishes, const uint8_t *code,
                 size_t size, GError **error)
{
    if (code == NULL) {
        return wishes->save == NULL || fail(error, UVK_NOT_DONE,
                                            "this bootloader does not show what is in the "
                                            "chip, so that there is no copy "
                                            "of it; nothing was written");
    }
    if (wishes->save != NULL && size == 0) {
        return fail(error, UVK_NOT_WELL,
                    "the chip is empty: there is nothing to keep a copy of; "
                    "nothing was written");
    }
    if (!wishes->other_board && !is_for_board(errand, code, size, error)) {
        return false;
    }
    return wishes->save == NULL || save(wishes->save, errand->chip, code, size, error);
}

/* ---- the rule for udev ------------------------------------------------------------------ */

static void append_rule(GString *out, const char *what, unsigned vendor, unsigned product)
{
    g_string_append_printf(
        out,
        "# %s\nSUBSYSTEM==\"usb\", ENV{DEVTYPE}==\"usb_device\", ATTR{idVendor}==\"%04x\", "
        "ATTR{idProduct}==\"%04x\", TAG+=\"uaccess\"\n"
        "KERNEL==\"hidraw*\", ATTRS{idVendor}==\"%04x\", ATTRS{idProduct}==\"%04x\", "
        "TAG+=\"uaccess\"\n",
        what, vendor, product, vendor, product);
}

int write_rule(const char *path, const struct errand *errand, const struct wishes *wishes)
{
    const struct uvk_chip *chip = errand->chip;
    GString *out =
        g_string_new("# Whoever sits at this computer may open these USB devices.\n");
    GError *error = NULL;
    bool good;

    if (chip->dfu_vendor != 0) {
        char *what = g_strdup_printf("the %s's own DFU bootloader", chip->title);
        append_rule(out, what, chip->dfu_vendor, chip->dfu_product);
        g_free(what);
    }
    if (wishes->flash.vendor != 0) {
        append_rule(out, errand->title, wishes->flash.vendor, wishes->flash.product);
    }
    good = uvk_file_write(path, out->str, out->len, &error);
    g_string_free(out, TRUE);
    if (!good) {
        return print_problem(error);
    }
    printf("wrote %s. As root:\n  cp %s /etc/udev/rules.d/70-uvrek-%s.rules\n"
           "  udevadm control --reload\n  udevadm trigger\n",
           path, path, errand->board != NULL ? errand->board : chip->name);
    return STATUS_WELL;
}
