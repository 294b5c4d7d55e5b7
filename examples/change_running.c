/* change_running.c - change one key of a keyboard while it runs.
 *
 *   uvrek bench --usbip 4711 FILE        in one terminal, and in another
 *   build/example_change_running 4711 FILE base r0c1 'ctrl+z'
 *
 * FILE is a keymap with a `live` block. The keyboard asks whether it is you; the keys that it
 * names are tapped at the bench (`tap r0c1`). The file itself stays as it is. */
#include "uvrek/edit.h"
#include "uvrek/live.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* FILE as it is with the key changed; NULL: *ERROR. */
static struct uvk_program *changed(struct uvk_program *program, char **words, GError **error)
{
    struct uvk_source *source = program->sources->pdata[0];
    struct uvk_edits *edits = uvk_edits_new(source);
    unsigned layer = 0;
    unsigned key = 0;
    struct uvk_program *next = NULL;
    char *text = NULL;
    size_t size;

    while (layer < program->keymap->layer_count &&
           strcmp(program->keymap->layers[layer].name, words[0]) != 0) {
        layer++;
    }
    for (; key < program->board->key_count; key++) {
        char *place = uvk_cell_place(program->board, key);
        bool same = strcmp(place, words[1]) == 0;
        g_free(place);
        if (same) {
            break;
        }
    }
    if (layer == program->keymap->layer_count || key == program->board->key_count) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "there is no %s on %s", words[1],
                    words[0]);
    } else if (uvk_edit_cell(edits, program, layer, key, words[2], error)) {
        text = uvk_edits_apply(edits, &size);
        next = uvk_program_read(source->path, text, size); /* what it uses lies beside it */
    }
    g_free(text);
    uvk_edits_free(edits);
    return next;
}

/* Until the keys are pressed. */
static bool wait_for_consent(struct uvk_live *live, const struct uvk_board *board,
                             GError **error)
{
    struct uvk_live_asking asking = {.state = UVK_DOOR_STIRS};
    bool told = false;

    while (asking.state != UVK_DOOR_IS_OPEN) {
        if (!uvk_live_asked(live, &asking, error)) {
            return false;
        }
        if (asking.state == UVK_DOOR_CLOSED) {
            g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, "the door stays closed");
            return false;
        }
        for (unsigned i = 0; asking.state == UVK_DOOR_ASKS && !told && i < UVK_DOOR_KEYS; i++) {
            char *place = uvk_cell_place(board, asking.keys[i]);
            printf("%s%s", i == 0 ? "press " : ", then ", place);
            g_free(place);
        }
        if (asking.state == UVK_DOOR_ASKS && !told) {
            puts("");
            (void)fflush(stdout);
            told = true;
        }
        g_usleep(20000);
    }
    return true;
}

/* Why PROGRAM has no image. */
static void tell(const struct uvk_program *program)
{
    for (guint i = 0; i < program->messages.list->len; i++) {
        char *text = uvk_message_render(program->messages.list->pdata[i], false);
        fputs(text, stderr);
        g_free(text);
    }
}

static bool change(const char *where, struct uvk_program *program, const uint8_t *bytes,
                   uint16_t size, GError **error)
{
    GPtrArray *list = uvk_live_list(where, error);
    const struct uvk_live_found *first = list != NULL && list->len > 0 ? list->pdata[0] : NULL;
    struct uvk_live *live = first != NULL ? uvk_live_open(where, first->name, error) : NULL;
    struct uvk_image wanted;
    unsigned needed = 0;
    bool good = live != NULL && uvk_image_open(&wanted, bytes, size) == UVK_OK &&
                uvk_live_ask(live, error) && wait_for_consent(live, program->board, error) &&
                uvk_live_change(live, &wanted, &needed, error) && uvk_live_is_kept(live, error);

    if (good) {
        printf("it is changed, and kept: %u bytes of its room\n", needed);
    }
    uvk_live_close(live);
    g_clear_pointer(&list, g_ptr_array_unref);
    return good;
}

int main(int argc, char **argv)
{
    struct uvk_program *program = argc == 6 ? uvk_program_load(argv[2]) : NULL;
    struct uvk_program *next = NULL;
    GError *error = NULL;
    uint8_t *bytes = NULL;
    uint16_t size = 0;
    bool good = false;

    if (program == NULL) {
        fputs("PORT FILE LAYER KEY CELL\n", stderr);
        return 2;
    }
    if (program->messages.errors == 0 && program->keymap != NULL) {
        next = changed(program, argv + 3, &error);
    }
    if (next != NULL && next->messages.errors == 0) {
        bytes = uvk_lower(next, &size);
    }
    if (bytes != NULL) {
        good = change(argv[1], next, bytes, size, &error);
    } else if (error == NULL) {
        tell(next != NULL ? next : program);
    }
    if (!good) {
        fprintf(stderr, "%s\n", error != NULL ? error->message : "nothing is changed");
    }
    g_clear_error(&error);
    g_free(bytes);
    if (next != NULL) {
        uvk_program_free(next);
    }
    uvk_program_free(program);
    return good ? EXIT_SUCCESS : EXIT_FAILURE;
}
