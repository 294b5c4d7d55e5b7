/* editor_hooks.h - what `uvrek editor` does for its server, see editor.h. */
#ifndef UVREK_CLI_EDITOR_HOOKS_H
#define UVREK_CLI_EDITOR_HOOKS_H

#include "cli.h"

#include "uvrek/bench.h"
#include "uvrek/editor.h"

/* In the simulator, on a keyboard of its own. */
char *editor_play(struct uvk_program *program, const struct uvk_play *play, void *data);
char *editor_draw(struct uvk_program *program, const struct uvk_play *play, bool *good,
                  void *data);
char *editor_type(struct uvk_program *program, const char *text, bool *good, void *data);

/* The URI of the page with all messages. Freed with g_free. NULL: it is not there. */
char *editor_messages(void);

#endif
