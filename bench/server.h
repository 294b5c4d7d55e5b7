/* server.h - the server's insides: connections in usbip.c, what is asked for in urbs.c. */
#ifndef UVREK_BENCH_SERVER_H
#define UVREK_BENCH_SERVER_H

#include "uvrek/gadget.h"

#include <gio/gio.h>

#define CLIENTS      (UVK_USBIP_FILES - 1)
#define WAITING_MOST 32u   /* transfers that a host may have open */
#define OUT_MOST     4096u /* bytes that it may bring at once */

#define PACKET_MOST 64u /* bytes of an interrupt packet (USB 2.0, 5.7.3) */

/* A transfer that waits: for a packet of an interrupt endpoint, until the device takes one, or
 * for an answer of endpoint 0 that never comes. */
struct transfer {
    uint32_t sequence, length;
    uint8_t endpoint;
    bool brings; /* OUT: DATA is for the device */
    uint8_t data[PACKET_MOST];
};

struct client {
    GSocket *socket;    /* NULL: nobody is there */
    GByteArray *heard;  /* what has come, and is not done yet */
    GByteArray *unsent; /* what is to go out */
    struct transfer transfers[WAITING_MOST];
    unsigned waiting;
};

struct uvk_usbip {
    GSocket *socket;
    const struct uvk_gadget *gadget; /* NULL: nothing is plugged in */
    struct client clients[CLIENTS];
    struct client *taker; /* who has the gadget; NULL: nobody */
    uint16_t number;      /* of the device on its bus */
};

/* urbs.c: answer what has come whole, and what can be answered now. False: the client has
 * broken the protocol, or is done. */
bool client_answer(struct uvk_usbip *server, struct client *client);

#endif
