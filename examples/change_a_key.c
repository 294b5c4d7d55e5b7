/* change_a_key.c - change one key of a keymap, and nothing else of its file.
 *
 *   build/example_change_a_key boards/subtitle-desk.uvk mark r2c1 'ctrl+f'
 *
 * The new text is printed; what the key did and what it does now is told beside it. */
#include "uvrek/edit.h"
#include "uvrek/explain.h"

#include <stdio.h>
#include <string.h>

/* The layer of that name, -1: none. */
static int find_layer(const struct uvk_program *program, const char *name)
{
    for (unsigned i = 0; i < program->keymap->layer_count; i++) {
        if (strcmp(program->keymap->layers[i].name, name) == 0) {
            return (int)i;
        }
    }
    return -1;
}

/* The cell at that address, -1: none. */
static int find_cell(const struct uvk_program *program, const char *address)
{
    for (unsigned i = 0; i < program->board->key_count; i++) {
        char *place = uvk_cell_place(program->board, i);
        bool same = strcmp(place, address) == 0;
        g_free(place);
        if (same) {
            return (int)i;
        }
    }
    return -1;
}

static void tell(const char *when, const struct uvk_program *program, int layer, int cell)
{
    char *sentence = uvk_cell_sentence(program, (unsigned)layer, (unsigned)cell);

    fprintf(stderr, "%s it %s\n", when, sentence);
    g_free(sentence);
}

/* Print the text with the change; false and a message if it cannot be made. */
static bool change(struct uvk_program *program, int layer, int cell, const char *to)
{
    const struct uvk_source *source = g_ptr_array_index(program->sources, 0);
    struct uvk_edits *edits = uvk_edits_new(source);
    GError *error = NULL;
    bool good = uvk_edit_cell(edits, program, (unsigned)layer, (unsigned)cell, to, &error);
    struct uvk_program *changed;
    size_t size;
    char *text;

    if (!good) {
        fprintf(stderr, "%s\n", error->message);
        g_error_free(error);
        uvk_edits_free(edits);
        return false;
    }
    text = uvk_edits_apply(edits, &size);
    changed = uvk_program_read(source->path, text, size); /* it may have mistakes now */
    good = changed->messages.errors == 0;
    if (good) {
        fputs(text, stdout);
        tell("before,", program, layer, cell);
        tell("now,   ", changed, layer, cell);
    }
    uvk_program_free(changed);
    uvk_edits_free(edits);
    g_free(text);
    return good;
}

int main(int argc, char **argv)
{
    struct uvk_program *program;
    int layer = -1;
    int cell = -1;
    bool good = false;

    if (argc != 5) {
        fprintf(stderr, "usage: %s FILE.uvk LAYER ADDRESS CELL\n", argv[0]);
        return 2;
    }
    program = uvk_program_load(argv[1]);
    if (program->messages.errors == 0 && program->keymap != NULL) {
        layer = find_layer(program, argv[2]);
        cell = find_cell(program, argv[3]);
    }
    if (layer < 0 || cell < 0) {
        fprintf(stderr, "there is no such key\n");
    } else {
        good = change(program, layer, cell, argv[4]);
    }
    uvk_program_free(program);
    return good ? 0 : 1;
}
