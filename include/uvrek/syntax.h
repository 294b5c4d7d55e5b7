/* syntax.h - the tree of a text: what is written, before anybody asks what it means.
 *
 * 1. The tree covers the whole language; which statements mean something is decided by
 *    the rooms that read it.
 * 2. Every node has its place. Nodes live in the program's arena.
 * 3. A statement is a node whose children are its items; if it has a block, that is its
 *    last child, and the block's children are statements.
 * 4. A statement with a mistake is BROKEN: it has the items that stood before the mistake.
 */
#ifndef UVREK_SYNTAX_H
#define UVREK_SYNTAX_H

#include "uvrek/source.h"

#ifdef __cplusplus
extern "C" {
#endif

enum uvk_node_kind {
    UVK_NODE_STATEMENT,
    UVK_NODE_BROKEN,
    UVK_NODE_BLOCK,
    UVK_NODE_NAME,      /* text */
    UVK_NODE_NUMBER,    /* number */
    UVK_NODE_TIME,      /* number, in microseconds */
    UVK_NODE_PERCENT,   /* number */
    UVK_NODE_CURRENT,   /* number, in milliamperes */
    UVK_NODE_COLOUR,    /* number, 0xRRGGBB */
    UVK_NODE_STRING,    /* text, escapes resolved */
    UVK_NODE_CHARACTER, /* text, one character */
    UVK_NODE_THROUGH,   /* . */
    UVK_NODE_NOTHING,   /* -- */
    UVK_NODE_CALL,      /* text(children) */
    UVK_NODE_CHORD,     /* children joined by + */
    UVK_NODE_TAP_HOLD,  /* two children: tap / held */
    UVK_NODE_QUALIFIED, /* text : child */
    UVK_NODE_FEEL,      /* child ~ text */
    UVK_NODE_ADDRESS,   /* text . child (a name) */
    UVK_NODE_SIZED,     /* child * number x second */
    UVK_NODE_PUSH,      /* child (perhaps none) = text */
    UVK_NODE_GAP,       /* + number */
    UVK_NODE_CHOICE,    /* (text = first child : the other children) */
    UVK_NODE_ARROW,     /* -> */
    UVK_NODE_EQUALS,    /* = */
    UVK_NODE_LESS,      /* < */
    UVK_NODE_BAR,       /* | */
    UVK_NODE_PLUS,      /* + by itself: a lamp without a key */
    UVK_NODE_COMMA
};

struct uvk_node {
    enum uvk_node_kind kind;
    struct uvk_place place;
    const char *text;
    double number, second;
    struct uvk_node *child, *next;
};

/* The text of NODE as its last word: of a feel behind ~, of a knob behind =. */
struct uvk_place uvk_last_word(const struct uvk_node *node);

/* Memory that is freed all at once. */
struct uvk_arena;
struct uvk_arena *uvk_arena_new(void);
void uvk_arena_free(struct uvk_arena *arena);
void *uvk_arena_take(struct uvk_arena *arena, size_t size); /* zeroed, never NULL */
char *uvk_arena_text(struct uvk_arena *arena, const char *text, size_t size);

/* Parse SOURCE whole. The result is a BLOCK node with the file's statements, never NULL;
 * what is wrong is in MESSAGES. */
struct uvk_node *uvk_parse(const struct uvk_source *source, struct uvk_arena *arena,
                           struct uvk_messages *messages);

#ifdef __cplusplus
}
#endif

#endif
