/* workbench.h - a keyboard on the bench, and who reaches it: options in bench.c, what is typed
 * in steps.c, bootloaders in serve.c, all that is waited for in outlets.c. */
#ifndef UVREK_WORKBENCH_H
#define UVREK_WORKBENCH_H

#include "cli.h"

#include "uvrek/bench.h"
#include "uvrek/bootloader.h"
#include "uvrek/firmware.h"
#include "uvrek/gadget.h"

/* Faults of the bootloader, to order; each road has those that it can have. */
struct faults {
    struct uvk_bootloader_faults port;
    struct uvk_drive_faults drive;
    struct uvk_dfu_faults dfu;
};

/* Where it is reached, as the command line says; NULL: nowhere. */
struct outlets {
    char *serial, *drive, *usbip;
};

struct workbench {
    struct uvk_program *program;
    struct uvk_rig_options options;
    char *memories[UVK_HALVES]; /* that were kept, as hexadecimal digits; NULL: a new one */
    struct uvk_wrong *wrongs;   /* of the board, see OPTIONS */
    uint8_t *image;
    struct uvk_firmware *firmware;
    struct uvk_rig *rig; /* NULL while a chip is in its bootloader */
    /* What is in the chip, or in that of each half, without the bootloader; NULL: it is empty.
     */
    uint8_t *flashes[UVK_HALVES];
    /* where it is reached; NULL: not there */
    struct uvk_terminal *terminal;
    struct uvk_drive *drive;
    struct uvk_usbip *server;
    struct uvk_bootloader bootloader;
    struct uvk_dfu_boot *dfu;
    struct uvk_gadget gadget; /* the keyboard, while it is plugged into the server */
    gint64 passed;            /* till when the keyboard's time has followed the clock */
    gint64 taken;             /* when a host last had it */
    unsigned stays;           /* milliseconds that a bootloader waits for a word; 0: for ever */
    GString *input;           /* what has been typed, and is not done yet */
    guint seen;               /* what the host has noticed and print_received has told */
    unsigned restarts;        /* of the rig, that have been told */
    const char *trouble;      /* between its halves, that has been told; NULL: none */
    GString *text;            /* all that the host has received */
    unsigned failed;
    bool prompts;
};

/* steps.c: do a line that was typed. False: the chip has stopped, *ERROR. */
bool workbench_line(struct workbench *workbench, const char *line, GError **error);

/* outlets.c: make what OUTLETS names. */
bool outlets_open(struct workbench *workbench, const struct outlets *outlets,
                  const struct faults *faults, GError **error);
void outlets_close(struct workbench *workbench);

/* memory.c: what outlives the power of the rig is kept, for the next one; and read from the
 * file at PATH (NULL, or no file there: a new keyboard), written to it. */
void memory_keep(struct workbench *workbench);
bool memory_read(struct workbench *workbench, const char *path, GError **error);
bool memory_write(struct workbench *workbench, const char *path, GError **error);

/* serve.c: plug the keyboard into the server, or pull what is in it. */
void plug_keyboard(struct workbench *workbench);
void unplug_all(struct workbench *workbench);

/* outlets.c: the next line of standard input, without its end; whoever reaches the keyboard is
 * served meanwhile. NULL: there is none any more, or *ERROR. */
char *outlets_next_line(struct workbench *workbench, GError **error);

/* serve.c: the chip is in its bootloader, until it has been told to start a firmware. */
bool serve_bootloader(struct workbench *workbench, GError **error);

#endif
