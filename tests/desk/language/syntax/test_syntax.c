/* The tree of every form that the language has, whether or not it means something yet. */
#include "support.h"

#include <string.h>

static const char *const kind_names[] = {[UVK_NODE_STATEMENT] = "statement",
                                         [UVK_NODE_BROKEN] = "broken",
                                         [UVK_NODE_BLOCK] = "block",
                                         [UVK_NODE_NAME] = "",
                                         [UVK_NODE_NUMBER] = "number",
                                         [UVK_NODE_TIME] = "time",
                                         [UVK_NODE_STRING] = "string",
                                         [UVK_NODE_CHARACTER] = "character",
                                         [UVK_NODE_THROUGH] = ".",
                                         [UVK_NODE_NOTHING] = "--",
                                         [UVK_NODE_CALL] = "call",
                                         [UVK_NODE_CHORD] = "chord",
                                         [UVK_NODE_TAP_HOLD] = "tap-hold",
                                         [UVK_NODE_QUALIFIED] = "qualified",
                                         [UVK_NODE_FEEL] = "feel",
                                         [UVK_NODE_ADDRESS] = "address",
                                         [UVK_NODE_SIZED] = "sized",
                                         [UVK_NODE_PUSH] = "push",
                                         [UVK_NODE_GAP] = "gap",
                                         [UVK_NODE_BAR] = "|",
                                         [UVK_NODE_CHOICE] = "choice",
                                         [UVK_NODE_ARROW] = "->",
                                         [UVK_NODE_EQUALS] = "=",
                                         [UVK_NODE_LESS] = "<",
                                         [UVK_NODE_COMMA] = ","};

static void dump(GString *out, const struct uvk_node *node)
{
    bool plain = node->child == NULL;

    g_string_append_printf(out, "%s%s", plain ? "" : "(", kind_names[node->kind]);
    if (node->kind == UVK_NODE_NUMBER || node->kind == UVK_NODE_TIME ||
        node->kind == UVK_NODE_GAP) {
        g_string_append_printf(out, " %g", node->number);
    } else if (node->kind == UVK_NODE_SIZED) {
        g_string_append_printf(out, " %gx%g", node->number, node->second);
    } else if (node->text != NULL && node->kind != UVK_NODE_ARROW &&
               node->kind != UVK_NODE_EQUALS) {
        g_string_append_printf(out, "%s%s", node->kind == UVK_NODE_NAME ? "" : " ", node->text);
    }
    for (const struct uvk_node *child = node->child; child != NULL; child = child->next) {
        g_string_append_c(out, ' ');
        dump(out, child);
    }
    g_string_append(out, plain ? "" : ")");
}

/* The statements of TEXT as one line; no mistakes allowed. */
static char *tree_of(const char *text)
{
    struct uvk_source source = {(char *)"tree.uvk", (char *)text, strlen(text)};
    struct uvk_arena *arena = uvk_arena_new();
    struct uvk_messages messages;
    GString *out = g_string_new(NULL);
    struct uvk_node *block;

    uvk_messages_init(&messages);
    block = uvk_parse(&source, arena, &messages);
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        g_string_append(out, out->len > 0 ? " " : "");
        dump(out, at);
    }
    if (messages.errors > 0) {
        char *shown = uvk_message_render(g_ptr_array_index(messages.list, 0), false);
        print_error("%s", shown);
        g_free(shown);
    }
    assert_int_equal(messages.errors, 0);
    uvk_messages_clear(&messages);
    uvk_arena_free(arena);
    return g_string_free(out, FALSE);
}

static const struct {
    const char *text, *tree;
} forms[] = {
    {"", ""},
    {"# only a comment", ""},
    {"use \"a.uvk\"; use \"b\\n\"", "(statement use string a.uvk) (statement use string b\n)"},
    {"wait 1.5s", "(statement wait time 1.5e+06)"},
    {"wait 50us; wait 200ms", "(statement wait time 50) (statement wait time 200000)"},
    {"vendor 0x1209", "(statement vendor number 4617)"},
    {"x 0.25 -3.5", "(statement x number 0.25 number -3.5)"},
    {"flow row->col", "(statement flow row -> col)"},
    {"flow row -> col", "(statement flow row -> col)"},
    {"ctrl+shift+esc . --", "(statement (chord ctrl shift esc) . --)"},
    {"ctrl + shift", "(statement (chord ctrl shift))"},
    {"space/nav a/shift ~calm",
     "(statement (tap-hold space nav) (feel calm (tap-hold a shift)))"},
    {"ctrl+c/shift", "(statement (tap-hold (chord ctrl c) shift))"},
    {"'?'/shift '\\'' '\\u{e9}'",
     "(statement (tap-hold character ? shift) character ' character \u00e9)"},
    {"toggle:nav once : shift board:bootloader",
     "(statement (qualified toggle nav) (qualified once shift) (qualified board bootloader))"},
    {"host:1", "(statement (qualified host number 1))"},
    {"mod(a, gui) f( b(c), d )", "(statement (call mod a gui) (call f (call b c) d))"},
    {"mod(a,\n  # broken over lines\n  gui\n) s", "(statement (call mod a gui) s)"},
    {"let mod(tap, held) = tap/held ~calm",
     "(statement let (call mod tap held) = (feel calm (tap-hold tap held)))"},
    {"left.r0c0 a", "(statement (address left r0c0) a)"},
    {"layer sys when nav+num { a b\n c }",
     "(statement layer sys when (chord nav num) (block (statement a b) (statement c)))"},
    {"layer x\n\n{ a }", "(statement layer x (block (statement a)))"},
    {"combo z+x -> mouse { within 50ms; on base nav; until last-up }",
     "(statement combo (chord z x) -> mouse (block (statement within time 50000) (statement on "
     "base nav) (statement until last-up)))"},
    {"dance one { tap tap -> f11; tap hold -> ctrl+1 }",
     "(statement dance one (block (statement tap tap -> f11) (statement tap hold -> (chord "
     "ctrl "
     "number 1))))"},
    {"leader { within 1s; n d -> next-day;  g s -> greet }",
     "(statement leader (block (statement within time 1e+06) (statement n d -> next-day) "
     "(statement g s -> greet)))"},
    {"macro m { type \"Good evening,\\n\"; press shift; on-release { tap a } }",
     "(statement macro m (block (statement type string Good evening,\n) (statement press "
     "shift) "
     "(statement on-release (block (statement tap a)))))"},
    {"expect delay < 5ms; expect pointer 12 -4",
     "(statement expect delay < time 5000) (statement expect pointer number 12 number -4)"},
    {"turn jog +2; turn jog -1", "(statement turn jog gap 2) (statement turn jog number -1)"},
    {"pins \"3\" D0, \"A0\" F7", "(statement pins string 3 D0 , string A0 F7)"},
    {"keys { r0c0*2 +0.5 r0c1*1.5x2=jog =dial\n at 1 2; turn -15\n d0 left.r0c0 }",
     "(statement keys (block (statement (sized 2x1 r0c0) gap 0.5 (push jog (sized 1.5x2 r0c1)) "
     "push dial) (statement at number 1 number 2) (statement turn number -15) (statement d0 "
     "(address left r0c0))))"},
    {"keys { r0c0 (enter=ansi: r2c12*2.25) (enter=iso:\n r1c13 +1 r2c12) }",
     "(statement keys (block (statement r0c0 (choice enter ansi (sized 2.25x1 r2c12)) (choice "
     "enter iso r1c13 gap 1 r2c12))))"},
    {"keys right mirror left gap 3", "(statement keys right mirror left gap number 3)"},
    {"choice enter { ansi iso }", "(statement choice enter (block (statement ansi iso)))"},
    {"a { }; b { } \n c", "(statement a block) (statement b block) (statement c)"},
};

static void every_form_has_its_tree(void **state)
{
    int wrong = 0;

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(forms); i++) {
        char *got = tree_of(forms[i].text);
        if (strcmp(got, forms[i].tree) != 0) {
            print_error("-- %s\nexpected %s\ngot      %s\n", forms[i].text, forms[i].tree, got);
            wrong++;
        }
        g_free(got);
    }
    assert_int_equal(wrong, 0);
}

static void places_span_what_they_name(void **state)
{
    static const char text[] = "let x = ctrl + '\u00e9'/nav ~calm # end\n";
    struct uvk_source source = {(char *)"place.uvk", (char *)text, strlen(text)};
    struct uvk_arena *arena = uvk_arena_new();
    struct uvk_messages messages;
    const struct uvk_node *feel;
    char *whole;

    (void)state;
    uvk_messages_init(&messages);
    feel = uvk_parse(&source, arena, &messages)->child->child->next->next->next;
    whole = g_strndup(text + feel->place.at, feel->place.length);
    assert_string_equal(whole, "ctrl + '\u00e9'/nav ~calm");
    assert_int_equal(uvk_place_position(feel->place).column, 9);
    assert_int_equal(feel->child->child->next->place.length, 3);
    g_free(whole);
    uvk_messages_clear(&messages);
    uvk_arena_free(arena);
}

/* A broken statement keeps what stood before the mistake, and the next one is whole. */
static void broken_statement_leaves_the_next_alone(void **state)
{
    static const char *const broken[] = {
        "let x = ctrl+",
        "a(b c",
        "keys { r0c0*x }",
        "keys { +x }",
        "keys { =3 }",
        "a ~ 3",
        "keys { (enter ansi: r0c0) }",
        "keys { (enter=3: r0c0) }",
        "keys { (enter=ansi r0c0) }",
        "keys { (3) }",
        "left. r0c0",
        "a:",
        "x ' y",
        "x \"",
        ") (",
        "keys { < }",
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(broken); i++) {
        char *text = g_strdup_printf("%s\nnext one\n", broken[i]);
        struct uvk_source source = {(char *)"broken.uvk", text, strlen(text)};
        struct uvk_arena *arena = uvk_arena_new();
        struct uvk_messages messages;
        const struct uvk_node *first;
        uvk_messages_init(&messages);
        first = uvk_parse(&source, arena, &messages)->child;
        assert_int_equal(messages.errors, 1);
        assert_non_null(first->next);
        assert_int_equal(first->next->kind, UVK_NODE_STATEMENT);
        assert_string_equal(first->next->child->text, "next");
        uvk_messages_clear(&messages);
        uvk_arena_free(arena);
        g_free(text);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_form_has_its_tree),
        cmocka_unit_test(places_span_what_they_name),
        cmocka_unit_test(broken_statement_leaves_the_next_alone),
    };
    return cmocka_run_group_tests_name("syntax", tests, NULL, NULL);
}
