/* `uvrek editor` as editors start it: bytes over a pipe, and a real one, neovim, without its
 * screen. */
#include "command.h"

/* What comes of the frames of MESSAGES, which are separated by blanks. */
#define FRAMES(messages)                                                                       \
    "for m in " messages                                                                       \
    "; do printf 'Content-Length: %d\\r\\n\\r\\n%s' ${#m} \"$m\"; done | "                     \
    "uvrek editor --stdio"
#define BEGIN "'{\"id\":1,\"method\":\"initialize\",\"params\":{}}'"
#define SHUT  "'{\"id\":2,\"method\":\"shutdown\"}'"
#define LEAVE "'{\"method\":\"exit\"}'"

static void it_speaks_over_a_pipe(void **state)
{
    (void)state;
    expect(FRAMES(BEGIN " " SHUT " " LEAVE), 0, "\"id\":1,\"result\":{\"capabilities\":", "");
    expect(FRAMES(BEGIN " " SHUT " " LEAVE), 0, "\r\n\r\n{\"id\":2,\"result\":null", "");
    expect(FRAMES(BEGIN " " LEAVE), 2, "\"id\":1", "");
    expect(FRAMES(BEGIN), 2, "\"id\":1", ""); /* the client has died */
    expect(FRAMES(BEGIN " " SHUT), 0, "\"id\":2", "");
    expect("printf 'hello\\r\\n\\r\\n' | uvrek editor", 2, "",
           "uvrek: what comes is no frame of the protocol\n");
    expect("uvrek editor < /dev/null", 2, "", "");
    expect("uvrek editor file < /dev/null", 2, "", "uvrek: ");
}

/* A mistake that is told, mended and gone; another name in both files; lines that line up. */
static void neovim_is_served(void **state)
{
    (void)state;
    expect("cp " SOURCE_FOLDER "/boards/*.uvk $SCRATCH && cd $SCRATCH && "
           "UVREK=$(command -v uvrek) UVREK_FILE=projection-room.uvk XDG_STATE_HOME=$SCRATCH "
           "XDG_DATA_HOME=$SCRATCH XDG_CACHE_HOME=$SCRATCH nvim -n --headless -u NONE "
           "-S " SOURCE_FOLDER "/tests/desk/editor/client.lua > said; S=$?; cat said; exit $S",
           0,
           "line 35: no key or name 'tabb'; did you mean 'tab'?\n"
           "offered: Write 'tab'\n"
           "mended\n"
           "hover: presses tab  *r2c4, row GP4, column GP14*\n",
           NULL);
    expect("tail -n 12 $SCRATCH/said", 0,
           "renamed: 11 lines with cues\n"
           "refused: that is no name, or it is taken\n"
           "lined up:     .  4  5    6    backspace\n"
           "the line below that: 0 changes\n"
           "that line: 1 change\n"
           "offered: Remove this statement\n"
           "5 hints; the first: ctrl+alt+f1, from the layer reels\n"
           "234 words with a colour\n"
           "6 plays; the first: passed (130 ms)\n"
           "drawn: <svg\n"
           "typed: 4 characters\n"
           "told of both: true\n",
           NULL);
    expect(
        "cd $SCRATCH && grep -c cues reel20.uvk && uvrek check projection-room.uvk | head -n 1",
        0, "1\nreel20: 20 keys", NULL);
}

/* The files that are installed say what the program says. */
static void colours_are_kept(void **state)
{
    (void)state;
    expect("uvrek explain --messages | cmp - " SOURCE_FOLDER "/docs/messages.md", 0, "", "");
    expect("uvrek explain --messages U021", 2, "", "it takes no word and no file");
    expect("uvrek editor --colours vim | cmp - " SOURCE_FOLDER "/share/uvrek.vim", 0, "", "");
    expect("uvrek editor --colours textmate | cmp - " SOURCE_FOLDER
           "/share/uvrek.tmLanguage.json",
           0, "", "");
    expect("uvrek editor --colours red", 2, "", "--colours is vim or textmate, not 'red'");
    /* a key, a statement, a colour and a comment, as Vim sees them */
    expect(
        "cd $SCRATCH && printf 'layer base {\\n  volume-up # ff8800\\n  light #ff8800\\n}\\n' "
        "> "
        "colours.uvk && XDG_STATE_HOME=$SCRATCH XDG_DATA_HOME=$SCRATCH nvim -n --headless -u "
        "NONE --cmd 'syntax on' -c 'so " SOURCE_FOLDER "/share/uvrek.vim' -c 'call "
        "writefile(map([[1,1],[2,5],[2,15],[3,10]], {_, p -> synIDattr(synID(p[0], p[1], 1), "
        "\"name\")}), \"seen\")' -c q colours.uvk; cat seen",
        0, "uvrekStatement\nuvrekKey\nuvrekComment\nuvrekColour\n", NULL);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(it_speaks_over_a_pipe),
        cmocka_unit_test(neovim_is_served),
        cmocka_unit_test(colours_are_kept),
    };

    return cmocka_run_group_tests_name("editing", tests, command_line_set_up, NULL);
}
