/* arena.c - memory for a tree: taken bit by bit, freed at once. */
#include "uvrek/syntax.h"

#include <string.h>

#define CHUNK (64u * 1024u)

struct uvk_arena {
    GPtrArray *chunks;
    char *at;
    size_t left;
};

struct uvk_arena *uvk_arena_new(void)
{
    struct uvk_arena *arena = g_new0(struct uvk_arena, 1);

    arena->chunks = g_ptr_array_new_with_free_func(g_free);
    return arena;
}

void uvk_arena_free(struct uvk_arena *arena)
{
    if (arena != NULL) {
        g_ptr_array_free(arena->chunks, TRUE);
        g_free(arena);
    }
}

void *uvk_arena_take(struct uvk_arena *arena, size_t size)
{
    void *taken;

    size = (size + 15u) & ~(size_t)15u;
    if (size > arena->left) {
        arena->left = MAX(size, CHUNK);
        arena->at = g_malloc0(arena->left);
        g_ptr_array_add(arena->chunks, arena->at);
    }
    taken = arena->at;
    arena->at += size;
    arena->left -= size;
    return taken;
}

char *uvk_arena_text(struct uvk_arena *arena, const char *text, size_t size)
{
    char *copy = uvk_arena_take(arena, size + 1);

    memcpy(copy, text, size);
    return copy;
}
