/* variants.c - a board with each of its layout choices. */
#include "uvrek/text.h"

#include <math.h>

#define SAME 0.01 /* key units */

bool uvk_board_has_key(const struct uvk_board *board, const struct uvk_key_place *key)
{
    for (unsigned i = 0; i < board->key_count; i++) {
        const struct uvk_key_place *own = &board->keys[i];
        if (own->half == key->half && own->direct == key->direct && own->row == key->row &&
            own->col == key->col) {
            return fabs(own->x - key->x) < SAME && fabs(own->y - key->y) < SAME &&
                   fabs(own->width - key->width) < SAME &&
                   fabs(own->height - key->height) < SAME;
        }
    }
    return false;
}

static void free_variant(gpointer data)
{
    struct uvk_variant *variant = data;

    uvk_program_free(variant->program);
    g_free(variant->title);
    g_free(variant);
}

#define NAMED_MOST 5u /* more would be wider than the board */

/* What is chosen: "enter ansi, backspace whole". */
static char *title_of(const struct uvk_board *board)
{
    GString *out = g_string_new(NULL);

    if (board->choice_count > NAMED_MOST) {
        g_string_printf(out, "all %u choices as they are", board->choice_count);
        return g_string_free(out, FALSE);
    }
    for (unsigned i = 0; i < board->choice_count; i++) {
        const struct uvk_choice *choice = &board->choices[i];
        g_string_append_printf(out, "%s%s %s", i > 0 ? ", " : "", choice->name,
                               choice->options[choice->chosen]);
    }
    return g_string_free(out, FALSE);
}

static void add(GPtrArray *variants, const struct uvk_program *program, const unsigned *options,
                char *title)
{
    struct uvk_variant *variant = g_new(struct uvk_variant, 1);

    variant->program = uvk_program_choosing(program, options);
    variant->title = title;
    g_ptr_array_add(variants, variant);
}

GPtrArray *uvk_board_variants(const struct uvk_program *program)
{
    const struct uvk_board *board = program->board;
    GPtrArray *variants = g_ptr_array_new_with_free_func(free_variant);
    unsigned options[UVK_CHOICES_MAX];

    for (unsigned i = 0; i < board->choice_count; i++) {
        options[i] = board->choices[i].chosen;
    }
    add(variants, program, options, title_of(board));
    for (unsigned i = 0; i < board->choice_count; i++) {
        const struct uvk_choice *choice = &board->choices[i];
        for (unsigned option = 0; option < choice->option_count; option++) {
            options[i] = option;
            if (option != choice->chosen) {
                add(variants, program, options,
                    g_strdup_printf("%s %s", choice->name, choice->options[option]));
            }
        }
        options[i] = choice->chosen;
    }
    return variants;
}
