/** Made from the API's description by `npm run api-client`; change the operations instead. */
export interface paths {
    "/prospects": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * People, by search, list, stage or filter.
         * @description Needs the scope `prospects:read`.
         */
        get: operations["listProspects"];
        put?: never;
        /**
         * Adds somebody, cleaned like everybody else, and puts them on a list. Somebody known is only put on the list.
         * @description Needs the scope `prospects:write`.
         */
        post: operations["addProspect"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/prospects/bulk": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Adds up to 1,000 people, each with an answer of its own.
         * @description Needs the scope `prospects:write`.
         */
        post: operations["addProspects"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/prospects/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One person; the number of an entry that was merged leads to who remained.
         * @description Needs the scope `prospects:read`.
         */
        get: operations["getProspect"];
        put?: never;
        post?: never;
        /**
         * Erases somebody for good. Their name has to be given, as on the page.
         * @description Needs the scope `prospects:write`.
         */
        delete: operations["eraseProspect"];
        options?: never;
        head?: never;
        /**
         * Changes the fields that are given. A stage has its consequences: where a sequence stops at it, it stops.
         * @description Needs the scope `prospects:write`.
         */
        patch: operations["changeProspect"];
        trace?: never;
    };
    "/prospects/{id}/notes": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Writes a note about somebody.
         * @description Needs the scope `prospects:write`.
         */
        post: operations["noteProspect"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/prospects/{id}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Stops what is planned for somebody, as the page's Stop does.
         * @description Needs the scope `sequences:write`.
         */
        post: operations["stopProspect"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/prospects/verify": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Has addresses verified anew.
         * @description Needs the scope `prospects:write`.
         */
        post: operations["verifyProspects"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/prospects/{id}/history": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * What happened with somebody.
         * @description Needs the scope `prospects:read`.
         */
        get: operations["listHistory"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/companies": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Companies.
         * @description Needs the scope `prospects:read`.
         */
        get: operations["listCompanies"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/lists": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Lists, but for those that colleagues keep to themselves.
         * @description Needs the scope `prospects:read`.
         */
        get: operations["listLists"];
        put?: never;
        /**
         * Makes a list, or finds the one of this name that may be changed.
         * @description Needs the scope `prospects:write`.
         */
        post: operations["makeList"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/lists/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        post?: never;
        /**
         * Deletes a list; its people stay, and journeys go on.
         * @description Needs the scope `prospects:write`.
         */
        delete: operations["deleteList"];
        options?: never;
        head?: never;
        /**
         * Gives a list another name.
         * @description Needs the scope `prospects:write`.
         */
        patch: operations["renameList"];
        trace?: never;
    };
    "/lists/{id}/prospects": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Puts people on a list.
         * @description Needs the scope `prospects:write`.
         */
        post: operations["putOnList"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/lists/{id}/prospects/remove": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Takes people off a list.
         * @description Needs the scope `prospects:write`.
         */
        post: operations["takeOffList"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/fields": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Everything that can be known of a person.
         * @description Needs the scope `prospects:read`.
         */
        get: operations["listFields"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/stages": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * How far somebody can have come, in order.
         * @description Needs the scope `prospects:read`.
         */
        get: operations["listStages"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/sequences": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Sequences, but for those that colleagues keep to themselves.
         * @description Needs the scope `sequences:read`.
         */
        get: operations["listSequences"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/sequences/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One sequence with its path, as its file has it.
         * @description Needs the scope `sequences:read`.
         */
        get: operations["getSequence"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/sequences/{id}/journeys": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Starts people on a running sequence; of a draft they come onto its list.
         * @description Needs the scope `sequences:write`.
         */
        post: operations["enrol"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/sequences/{id}/journeys/change": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Lets people of a sequence pause, go on, or takes them out.
         * @description Needs the scope `sequences:write`.
         */
        post: operations["changeJourneys"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/sequences/{id}/state": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Lets a started sequence pause, or go on.
         * @description Needs the scope `sequences:write`.
         */
        post: operations["setSequenceState"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/journeys": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * People's ways through sequences.
         * @description Needs the scope `sequences:read`.
         */
        get: operations["listJourneys"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/journeys/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One way through a sequence, and why it waits.
         * @description Needs the scope `sequences:read`.
         */
        get: operations["getJourney"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/touches": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Touches: what was sent and done, and what is open.
         * @description Needs the scope `touches:read`.
         */
        get: operations["listTouches"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/touches/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One touch.
         * @description Needs the scope `touches:read`.
         */
        get: operations["getTouch"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/touches/{id}/done": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Says that an open touch is done, and how a call went.
         * @description Needs the scope `touches:write`.
         */
        post: operations["doTouch"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/touches/{id}/skipped": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Skips an open touch.
         * @description Needs the scope `touches:write`.
         */
        post: operations["skipTouch"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/replies": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Replies, and what else came back.
         * @description Needs the scope `replies:read`.
         */
        get: operations["listReplies"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/replies/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One reply.
         * @description Needs the scope `replies:read`.
         */
        get: operations["getReply"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/replies/{id}/label": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Says what a reply means; everything follows that the label does.
         * @description Needs the scope `replies:write`.
         */
        post: operations["labelReply"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/replies/{id}/read": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Marks a reply as read, or as to be read again.
         * @description Needs the scope `replies:write`.
         */
        post: operations["markReply"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/labels": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * The labels that replies get.
         * @description Needs the scope `replies:read`.
         */
        get: operations["listLabels"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/meetings": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Booked calls.
         * @description Needs the scope `meetings:read`.
         */
        get: operations["listMeetings"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/meetings/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One booked call.
         * @description Needs the scope `meetings:read`.
         */
        get: operations["getMeeting"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/meetings/{id}/outcome": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Notes whether a call took place; what comes next is put on Today.
         * @description Needs the scope `meetings:write`.
         */
        post: operations["noteMeeting"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/booking-pages": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One's own booking pages.
         * @description Needs the scope `meetings:read`.
         */
        get: operations["listBookingPages"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/booking-pages/{slug}/times": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * When a call can be booked on a page.
         * @description Needs the scope `meetings:read`.
         */
        get: operations["listFreeTimes"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/mailboxes": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Mailboxes, and what each may send today.
         * @description Needs the scope `sending:read`.
         */
        get: operations["listMailboxes"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/mailboxes/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One mailbox.
         * @description Needs the scope `sending:read`.
         */
        get: operations["getMailbox"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/mailboxes/{id}/state": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Lets a mailbox pause, or go on; one that rests is brought back.
         * @description Needs the scope `sending:write`.
         */
        post: operations["setMailboxState"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/block-list": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Addresses and domains that nothing is sent to.
         * @description Needs the scope `sending:read`.
         */
        get: operations["listBlocked"];
        put?: never;
        /**
         * Puts addresses and domains on the block list, and stops whoever they concern.
         * @description Needs the scope `sending:write`.
         */
        post: operations["block"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/block-list/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        post?: never;
        /**
         * Takes an entry off the block list. Of somebody who opted out, why has to be said.
         * @description Needs the scope `sending:write`.
         */
        delete: operations["unblock"];
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/results": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * Results of all sequences: of people who were started, each counted once; shares are of those who were reached.
         * @description Needs the scope `results:read`.
         */
        get: operations["getResults"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/imports": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Takes a list of people as CSV, tells its columns, and looks through it; nobody is added yet.
         * @description Needs the scope `jobs:write`.
         */
        post: operations["importPeople"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/imports/{id}/run": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Adds the people of a file that was looked through.
         * @description Needs the scope `jobs:write`.
         */
        post: operations["runImport"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/searches": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Searches the directory with a saved profile.
         * @description Needs the scope `jobs:write`.
         */
        post: operations["search"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/searches/{id}/keep": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Keeps whom a search found on a list: everybody who fits and is not known, or only some.
         * @description Needs the scope `jobs:write`.
         */
        post: operations["keepFound"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/jobs/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * How far some work is.
         * @description Needs the scope `jobs:read`.
         */
        get: operations["getJob"];
        put?: never;
        post?: never;
        /**
         * Ends some work; what it has done stays, but for an import, which takes itself back.
         * @description Needs the scope `jobs:write`.
         */
        delete: operations["stopJob"];
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/webhooks": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * The webhooks that you may change.
         * @description Needs the scope `webhooks:read`.
         */
        get: operations["listWebhooks"];
        put?: never;
        /**
         * Makes a webhook; its secret is answered once.
         * @description Needs the scope `webhooks:write`.
         */
        post: operations["makeWebhook"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/webhooks/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * One webhook.
         * @description Needs the scope `webhooks:read`.
         */
        get: operations["getWebhook"];
        put?: never;
        post?: never;
        /**
         * Removes a webhook with what waited for it.
         * @description Needs the scope `webhooks:write`.
         */
        delete: operations["removeWebhook"];
        options?: never;
        head?: never;
        /**
         * Changes a webhook, or switches it on or off.
         * @description Needs the scope `webhooks:write`.
         */
        patch: operations["changeWebhook"];
        trace?: never;
    };
    "/webhooks/{id}/secret": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * A new secret, answered once; the one before signs beside it for a day.
         * @description Needs the scope `webhooks:write`.
         */
        post: operations["rotateSecret"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/webhooks/{id}/test": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Tells a webhook something of no consequence.
         * @description Needs the scope `webhooks:write`.
         */
        post: operations["testWebhook"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/webhooks/{id}/replay": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Tells everything since then once more, also what happened while it was off. What is older than 30 days is gone.
         * @description Needs the scope `webhooks:write`.
         */
        post: operations["replayWebhook"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/rules": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * The team's rules, and how they stand.
         * @description Needs the scope `rules:read`.
         */
        get: operations["listRules"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/rules/{id}/call": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Sets off a rule that waits for a call, for somebody.
         * @description Needs the scope `rules:write`.
         */
        post: operations["callRule"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
}
export interface webhooks {
    "journey.started": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody was started on a sequence.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "journey.stopped": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when what was planned for somebody was stopped.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "journey.finished": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody came to the end of a sequence.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "email.sent": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when an email was sent.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "email.opened": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody opened an email; programs that load it are left out.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "email.clicked": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody followed a link.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "email.bounced": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when an email came back.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "page.visited": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody looked at the page that is theirs; programs are left out.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "film.watched": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody watched the film there: its beginning, a quarter, half, three quarters, the end.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "file.opened": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody looked at a file.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "file.saved": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody saved a file.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "reply.received": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody answered.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "reply.labelled": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when an answer got its label.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "prospect.opted_out": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody wants no more mail.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "prospect.added": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody was added.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "prospect.stage_changed": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody came to another stage.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "meeting.booked": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when a call was booked.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "meeting.moved": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when a call was moved.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "meeting.cancelled": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when a call was cancelled.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "meeting.held": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when a call took place.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "meeting.missed": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when somebody did not come to a call.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "mailbox.rests": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /**
         * Told when a mailbox was put to rest, since too much of its mail came back.
         * @description Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.
         */
        post: {
            parameters: {
                query?: never;
                header?: never;
                path?: never;
                cookie?: never;
            };
            requestBody?: {
                content: {
                    "application/json": components["schemas"]["WebhookPayload"];
                };
            };
            responses: {
                /** @description Taken. Anything else is tried again for three days. */
                "2XX": {
                    headers: {
                        [name: string]: unknown;
                    };
                    content?: never;
                };
            };
        };
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
}
export interface components {
    schemas: {
        Prospect: {
            id: number;
            /** @description Null where none is known. */
            email: string | null;
            firstName: string;
            lastName: string;
            company: {
                id: number;
                name: string;
                domain: string | null;
            } | null;
            title: string;
            city: string;
            /** @description ISO 3166-1 alpha-2, “” where unknown. */
            country: string;
            /** @description An IANA name. */
            timeZone: string | null;
            /** @description E.164. */
            phone: string;
            /** @description The address of their social profile. */
            profile: string;
            /** @enum {string} */
            stage: "new" | "contacted" | "in_conversation" | "meeting_booked" | "won" | "lost";
            owner: {
                id: number;
                name: string;
            } | null;
            /** @description The team's own fields. */
            custom: {
                [key: string]: string;
            };
            /** @description Of the address; null: not verified. */
            verdict: ("good" | "risky" | "bad" | "unknown") | null;
            isBlocked: boolean;
            /** @description Their latest way through a sequence. */
            journey: {
                id: number;
                /** @description Null for a colleague's own sequence. */
                sequenceId: number | null;
                /** @enum {string} */
                state: "active" | "finished" | "stopped";
                nextAt: string | null;
                waitReason: string | null;
                stopReason: string | null;
            } | null;
            /**
             * Format: date-time
             * @description RFC 3339, UTC.
             */
            addedAt: string;
        };
        Problem: {
            /** @description urn:saudade:problem: and one of a closed list. */
            type: string;
            title: string;
            status: number;
            /** @description What to do about it. */
            detail?: string;
            /** @description What is wrong with which part of it. */
            errors?: {
                field: string;
                message: string;
            }[];
        };
        Company: {
            id: number;
            name: string;
            domain: string | null;
            industry: string;
            region: string;
            about: string;
        };
        List: {
            id: number;
            name: string;
            people: number;
        };
        Sequence: {
            id: number;
            name: string;
            owner: string;
            /** @enum {string} */
            state: "draft" | "running" | "paused";
            isPersonal: boolean;
            isArchived: boolean;
            tags: string[];
            version: number;
            steps: number;
            days: number;
        };
        Journey: {
            id: number;
            sequenceId: number;
            prospectId: number;
            /** @enum {string} */
            state: "active" | "finished" | "stopped";
            /** @description The sequence's version that they are on. */
            version: number;
            /** @description The step or fork that they stand before. */
            placeId: string | null;
            /**
             * Format: date-time
             * @description RFC 3339, UTC.
             */
            startedAt: string;
            nextAt: string | null;
            waitReason: string | null;
            waitDetail: string | null;
            stopReason: string | null;
            endedAt: string | null;
        };
        Touch: {
            id: number;
            /** @description email, approved_email, profile_view, invitation, social_message, call, errand, answer, test */
            kind: string;
            /** @enum {string} */
            state: "draft" | "approved" | "open" | "queued" | "claimed" | "sent" | "done" | "skipped" | "refused";
            journeyId: number | null;
            stepId: string | null;
            prospectId: number;
            /** @description Whose it is, if a person makes or approves it. */
            userId: number | null;
            mailboxId: number | null;
            recipient: string;
            subject: string;
            /** @description An email's text, or what a task says. */
            body: string;
            dueAt: string | null;
            sentAt: string | null;
            endedAt: string | null;
            /** @description How a call went. */
            outcome: string | null;
        };
        Reply: {
            id: number;
            prospectId: number;
            mailboxId: number;
            /** @description The email that it answers. */
            touchId: number | null;
            /** @description person, automatic, left, bounce, complaint, … */
            kind: string;
            from: {
                name: string;
                address: string;
            };
            subject: string;
            text: string;
            label: {
                code: string;
                name: string;
                isPositive: boolean;
            } | null;
            /**
             * Format: date-time
             * @description RFC 3339, UTC.
             */
            at: string;
            readAt: string | null;
            answeredAt: string | null;
        };
        Meeting: {
            id: number;
            /** @description Whose call it is. */
            user: {
                id: number;
                name: string;
            };
            prospectId: number | null;
            name: string;
            email: string;
            place: string;
            /**
             * Format: date-time
             * @description RFC 3339, UTC.
             */
            startsAt: string;
            /**
             * Format: date-time
             * @description RFC 3339, UTC.
             */
            endsAt: string;
            /**
             * Format: date-time
             * @description RFC 3339, UTC.
             */
            bookedAt: string;
            cancelledAt: string | null;
            /** @description How often it was moved. */
            moves: number;
            /** @description open, accepted, declined or tentative, as their calendar said. */
            attendance: string;
            heldAt: string | null;
            missedAt: string | null;
        };
        Mailbox: {
            id: number;
            address: string;
            senderName: string;
            owner: string;
            /** @enum {string} */
            state: "active" | "paused" | "resting";
            restsUntil: string | null;
            limitToday: number;
            sentToday: number;
            /** @description Why it cannot be read or cannot send. */
            trouble: string | null;
        };
        Block: {
            id: number;
            /** @enum {string} */
            kind: "address" | "domain";
            value: string;
            reason: string;
            note: string;
            /**
             * Format: date-time
             * @description RFC 3339, UTC.
             */
            at: string;
        };
        Job: {
            id: number;
            kind: string;
            /** @enum {string} */
            state: "waiting" | "working" | "done" | "failed" | "cancelled";
            done: number;
            total: number;
            problem: string | null;
        };
        Webhook: {
            id: number;
            name: string;
            url: string;
            kinds: ("journey.started" | "journey.stopped" | "journey.finished" | "email.sent" | "email.opened" | "email.clicked" | "email.bounced" | "page.visited" | "film.watched" | "file.opened" | "file.saved" | "reply.received" | "reply.labelled" | "prospect.opted_out" | "prospect.added" | "prospect.stage_changed" | "meeting.booked" | "meeting.moved" | "meeting.cancelled" | "meeting.held" | "meeting.missed" | "mailbox.rests")[];
            /** @description Of whom it is told, as JSON; “” for everybody. */
            filter: string;
            /** @description Of a chat channel: in which words, and when it is quiet. */
            channel: {
                words: string;
                /** @default 20:00 */
                quietFrom: string;
                /** @default 07:30 */
                quietUntil: string;
            } | null;
            owner: string;
            /** @enum {string} */
            state: "on" | "off";
            offBecause: string | null;
            failingSince: string | null;
            /** @description How many happenings wait to be told. */
            due: number;
        };
        Rule: {
            id: number;
            name: string;
            owner: string;
            /** @enum {string} */
            state: "on" | "off" | "held";
            heldBecause: string | null;
            isCalled: boolean;
            /** @description How often it acted in the last 30 days. */
            runs: number;
        };
        WebhookPayload: {
            /** @enum {string} */
            type: "test" | "rule.acted" | "journey.started" | "journey.stopped" | "journey.finished" | "email.sent" | "email.opened" | "email.clicked" | "email.bounced" | "page.visited" | "film.watched" | "file.opened" | "file.saved" | "reply.received" | "reply.labelled" | "prospect.opted_out" | "prospect.added" | "prospect.stage_changed" | "meeting.booked" | "meeting.moved" | "meeting.cancelled" | "meeting.held" | "meeting.missed" | "mailbox.rests";
            /** @constant */
            version: 1;
            /**
             * Format: date-time
             * @description RFC 3339, UTC.
             */
            timestamp: string;
            data: {
                prospect: components["schemas"]["Prospect"] | null;
                sequence: {
                    id: number;
                    name: string;
                } | null;
                journey: components["schemas"]["Journey"] | null;
                touch: components["schemas"]["Touch"] | null;
                reply: components["schemas"]["Reply"] | null;
                meeting: components["schemas"]["Meeting"] | null;
                mailbox: {
                    id: number;
                    address: string;
                } | null;
                /** @description Who did it; null for the program. */
                user: {
                    id: number;
                    name: string;
                } | null;
                /** @description Of a stage: which it was. */
                from: string | null;
                /** @description Of a stage: which it is. */
                to: string | null;
                /** @description The label's name, the link that was followed, … */
                detail: string | null;
            };
        };
    };
    responses: never;
    parameters: never;
    requestBodies: never;
    headers: never;
    pathItems: never;
}
export type $defs = Record<string, never>;
export interface operations {
    listProspects: {
        parameters: {
            query?: {
                /**
                 * @description How many at once, at most 100.
                 * @example 2
                 */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @description A part of a name, company or address. */
                q?: string;
                /** @description Only who is on this list. */
                list?: number;
                /** @example new */
                stage?: "new" | "contacted" | "in_conversation" | "meeting_booked" | "won" | "lost";
                /** @description A filter as JSON, as the Prospects page writes it into its address. */
                filter?: string;
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Prospect"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    addProspect: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "email": "nele@harbourmuseum.example",
                 *       "firstName": "Nele",
                 *       "lastName": "Ohlsen",
                 *       "company": "Harbour Museum",
                 *       "title": "Registrar",
                 *       "custom": {
                 *         "loans_a_year": "40"
                 *       },
                 *       "list": "Museums"
                 *     }
                 */
                "application/json": {
                    firstName?: string;
                    lastName?: string;
                    email?: string;
                    company?: string;
                    companyDomain?: string;
                    title?: string;
                    city?: string;
                    country?: string;
                    timeZone?: string;
                    language?: string;
                    phone?: string;
                    profile?: string;
                    /** @description The team's own fields, by their names. */
                    custom?: {
                        [key: string]: string;
                    };
                    /** @description The list that they go on, by its name; a new one is made. */
                    list: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        /** @description False where the address was known: then they are put on the list only. */
                        isNew: boolean;
                        prospect: components["schemas"]["Prospect"];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    addProspects: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "items": [
                 *         {
                 *           "email": "ole@northpier.example",
                 *           "firstName": "Ole",
                 *           "list": "Museums"
                 *         },
                 *         {
                 *           "email": "no address",
                 *           "list": "Museums"
                 *         }
                 *       ]
                 *     }
                 */
                "application/json": {
                    items: {
                        firstName?: string;
                        lastName?: string;
                        email?: string;
                        company?: string;
                        companyDomain?: string;
                        title?: string;
                        city?: string;
                        country?: string;
                        timeZone?: string;
                        language?: string;
                        phone?: string;
                        profile?: string;
                        /** @description The team's own fields, by their names. */
                        custom?: {
                            [key: string]: string;
                        };
                        /** @description The list that they go on, by its name; a new one is made. */
                        list: string;
                    }[];
                };
            };
        };
        responses: {
            /** @description What became of each. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        results: {
                            /** @description Which of the items it answers, from 0. */
                            index: number;
                            /** @description 200, or the status of its problem. */
                            status: number;
                            value?: {
                                /** @description False where the address was known: then they are put on the list only. */
                                isNew: boolean;
                                prospect: components["schemas"]["Prospect"];
                            };
                            problem?: components["schemas"]["Problem"];
                        }[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getProspect: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Prospect"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    eraseProspect: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
                /** @description The ETag of what you read: 412 where it has changed since. */
                "If-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 4
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "name": "Dora Sá"
                 *     }
                 */
                "application/json": {
                    /** @description Their full name, or the address where there is none. */
                    name: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": Record<string, never>;
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    changeProspect: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
                /** @description The ETag of what you read: 412 where it has changed since. */
                "If-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "city": "Porto",
                 *       "custom": {
                 *         "loans_a_year": "12"
                 *       }
                 *     }
                 */
                "application/json": {
                    firstName?: string;
                    lastName?: string;
                    email?: string;
                    company?: string;
                    companyDomain?: string;
                    title?: string;
                    city?: string;
                    country?: string;
                    timeZone?: string;
                    language?: string;
                    phone?: string;
                    profile?: string;
                    /** @description The team's own fields, by their names. */
                    custom?: {
                        [key: string]: string;
                    };
                    /** @enum {string} */
                    stage?: "new" | "contacted" | "in_conversation" | "meeting_booked" | "won" | "lost";
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Prospect"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    noteProspect: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "text": "Met at the fair."
                 *     }
                 */
                "application/json": {
                    text: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": Record<string, never>;
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    stopProspect: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Prospect"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    verifyProspects: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "prospectIds": [
                 *         1,
                 *         2
                 *       ]
                 *     }
                 */
                "application/json": {
                    prospectIds: number[];
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        count: number;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listHistory: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /**
                 * @description By id: the oldest first, or the newest.
                 * @example desc
                 */
                order?: "asc" | "desc";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 2
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: {
                            id: number;
                            /**
                             * Format: date-time
                             * @description RFC 3339, UTC.
                             */
                            at: string;
                            kind: string;
                            journeyId: number | null;
                            touchId: number | null;
                            detail: string | null;
                        }[];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listCompanies: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /**
                 * @description The beginning of a name.
                 * @example Ka
                 */
                q?: string;
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Company"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listLists: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["List"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    makeList: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "name": "Harbour towns"
                 *     }
                 */
                "application/json": {
                    name: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: number;
                        name: string;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    deleteList: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": Record<string, never>;
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    renameList: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "name": "Museums by the sea"
                 *     }
                 */
                "application/json": {
                    name: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": Record<string, never>;
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    putOnList: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "prospectIds": [
                 *         1,
                 *         2,
                 *         3
                 *       ]
                 *     }
                 */
                "application/json": {
                    prospectIds: number[];
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        count: number;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    takeOffList: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "prospectIds": [
                 *         4
                 *       ]
                 *     }
                 */
                "application/json": {
                    prospectIds: number[];
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        count: number;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listFields: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: {
                            name: string;
                            words: string;
                            isOwn: boolean;
                        }[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listStages: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: {
                            /** @enum {string} */
                            name: "new" | "contacted" | "in_conversation" | "meeting_booked" | "won" | "lost";
                            words: string;
                        }[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listSequences: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @example running */
                state?: "draft" | "running" | "paused";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Sequence"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getSequence: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: number;
                        name: string;
                        owner: string;
                        /** @enum {string} */
                        state: "draft" | "running" | "paused";
                        isPersonal: boolean;
                        isArchived: boolean;
                        tags: string[];
                        version: number;
                        steps: number;
                        days: number;
                        /** @description Steps, forks and ends, in the form that the sequence file's schema describes. */
                        path: {
                            [key: string]: unknown;
                        }[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    enrol: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "prospectIds": [
                 *         4,
                 *         1,
                 *         999
                 *       ]
                 *     }
                 */
                "application/json": {
                    /** @description Up to 1,000. */
                    prospectIds: number[];
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        results: {
                            prospectId: number;
                            /**
                             * @description “listed”: the sequence is a draft, and begins with its list.
                             * @enum {string}
                             */
                            result: "started" | "listed" | "left_out";
                            /** @description Why they were left out. */
                            because: ("already" | "elsewhere" | "blocked" | "address_bad" | "written_lately" | "held" | "no_address" | "address_not_good" | "lacks_field" | "line_unread" | "ready" | "not_found") | null;
                        }[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    changeJourneys: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "do": "pause",
                 *       "journeyIds": [
                 *         1
                 *       ]
                 *     }
                 */
                "application/json": {
                    /** @enum {string} */
                    do: "pause" | "resume" | "take_out";
                    journeyIds: number[];
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        /** @description For how many it could be done. */
                        changed: number;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    setSequenceState: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "state": "paused"
                 *     }
                 */
                "application/json": {
                    /** @enum {string} */
                    state: "running" | "paused";
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        /** @enum {string} */
                        state: "running" | "paused";
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listJourneys: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @description Only this person's. */
                prospect?: number;
                /**
                 * @description Only of this sequence.
                 * @example 1
                 */
                sequence?: number;
                /** @example active */
                state?: "active" | "finished" | "stopped";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Journey"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getJourney: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Journey"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listTouches: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @description Only this person's. */
                prospect?: number;
                /** @description Only of this way through a sequence. */
                journey?: number;
                /** @example open */
                state?: "draft" | "approved" | "open" | "queued" | "claimed" | "sent" | "done" | "skipped" | "refused";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Touch"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getTouch: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 2
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Touch"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    doTouch: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 2
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "outcome": "voicemail",
                 *       "note": "Rings until Friday."
                 *     }
                 */
                "application/json": {
                    /** @enum {string} */
                    outcome?: "reached" | "voicemail" | "no_answer" | "wrong_number";
                    /** @default  */
                    note?: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Touch"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    skipTouch: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 2
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /** @example {} */
                "application/json": {
                    /** @enum {string} */
                    outcome?: "reached" | "voicemail" | "no_answer" | "wrong_number";
                    /** @default  */
                    note?: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Touch"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listReplies: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /**
                 * @description By id: the oldest first, or the newest.
                 * @example desc
                 */
                order?: "asc" | "desc";
                /** @description Only this person's. */
                prospect?: number;
                /** @description Only those with this label's code. */
                label?: string;
                /** @example true */
                unread?: "true" | "false";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Reply"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getReply: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Reply"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    labelReply: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "label": "interested"
                 *     }
                 */
                "application/json": {
                    /** @description A label's code. */
                    label: string;
                    /**
                     * Format: date
                     * @description When they are back, or want to be asked again.
                     */
                    day?: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Reply"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    markReply: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "read": true
                 *     }
                 */
                "application/json": {
                    read: boolean;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Reply"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listLabels: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: {
                            code: string;
                            name: string;
                            isPositive: boolean;
                        }[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listMeetings: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @description Only this user's calls. */
                user?: number;
                /** @description Only with this person. */
                prospect?: number;
                /**
                 * @description Only those that start then or later.
                 * @example 1970-01-01T00:00:00Z
                 */
                from?: string;
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Meeting"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getMeeting: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Meeting"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    noteMeeting: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "how": "held",
                 *       "note": "Sends the loan list."
                 *     }
                 */
                "application/json": {
                    /** @enum {string} */
                    how: "held" | "missed";
                    /** @default  */
                    note?: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Meeting"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listBookingPages: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: {
                            id: number;
                            slug: string;
                            name: string;
                            url: string;
                            lengths: number[];
                        }[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listFreeTimes: {
        parameters: {
            query?: {
                /** @description One of the page's lengths. */
                minutes?: number;
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description The end of the page's address.
                 * @example marta-quintela
                 */
                slug: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        minutes: number;
                        data: string[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listMailboxes: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Mailbox"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getMailbox: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Mailbox"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    setMailboxState: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "state": "paused"
                 *     }
                 */
                "application/json": {
                    /** @enum {string} */
                    state: "active" | "paused";
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Mailbox"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listBlocked: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /**
                 * @description A part of the entry.
                 * @example old
                 */
                q?: string;
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Block"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    block: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "values": [
                 *         "rival.example",
                 *         "stop@harbour.example"
                 *       ],
                 *       "note": "Asked by phone."
                 *     }
                 */
                "application/json": {
                    values: string[];
                    /** @default  */
                    note?: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        added: number;
                        known: number;
                        broken: string[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    unblock: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "why": "They are a customer again."
                 *     }
                 */
                "application/json": {
                    /** @default  */
                    why?: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": Record<string, never>;
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getResults: {
        parameters: {
            query?: {
                /** @description Started on this day or later, where you are. */
                since?: string;
                /** @description Started on this day or earlier. */
                until?: string;
                list?: number;
                mailbox?: number;
                rep?: number;
                /** @example PT */
                country?: string;
                stage?: "new" | "contacted" | "in_conversation" | "meeting_booked" | "won" | "lost";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        all: {
                            started: number;
                            written: number;
                            reached: number;
                            answered: number;
                            positive: number;
                            booked: number;
                            optedOut: number;
                            bounced: number;
                            left: number;
                            active: number;
                            opened: number;
                            clicked: number;
                        };
                        sequences: {
                            id: number;
                            name: string;
                            figures: {
                                started: number;
                                written: number;
                                reached: number;
                                answered: number;
                                positive: number;
                                booked: number;
                                optedOut: number;
                                bounced: number;
                                left: number;
                                active: number;
                                opened: number;
                                clicked: number;
                            };
                        }[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    importPeople: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "list": "Fair",
                 *       "csv": "email,first name\nann@quay.example,Ann\n"
                 *     }
                 */
                "application/json": {
                    /** @default api.csv */
                    fileName?: string;
                    list: string;
                    /** @description As much as a request holds; longer lists go in parts. */
                    csv: string;
                    /** @description What each column is; told by its name and content without it. */
                    columns?: string[];
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        importId: number;
                        jobId: number;
                        columns: string[];
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    runImport: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        jobId: number;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    search: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "profileId": 1
                 *     }
                 */
                "application/json": {
                    profileId: number;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        searchId: number;
                        jobId: number | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    keepFound: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "list": "Found"
                 *     }
                 */
                "application/json": {
                    list: string;
                    foundIds?: number[];
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        listId: number;
                        kept: number;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getJob: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Job"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    stopJob: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
                /** @description The ETag of what you read: 412 where it has changed since. */
                "If-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Job"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listWebhooks: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Webhook"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    makeWebhook: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "name": "Warehouse",
                 *       "url": "https://hooks.quay.example/in",
                 *       "kinds": [
                 *         "reply.labelled"
                 *       ]
                 *     }
                 */
                "application/json": {
                    name: string;
                    url: string;
                    kinds: ("journey.started" | "journey.stopped" | "journey.finished" | "email.sent" | "email.opened" | "email.clicked" | "email.bounced" | "page.visited" | "film.watched" | "file.opened" | "file.saved" | "reply.received" | "reply.labelled" | "prospect.opted_out" | "prospect.added" | "prospect.stage_changed" | "meeting.booked" | "meeting.moved" | "meeting.cancelled" | "meeting.held" | "meeting.missed" | "mailbox.rests")[];
                    /** @default  */
                    filter?: string;
                    /** @default null */
                    channel?: {
                        words: string;
                        /** @default 20:00 */
                        quietFrom?: string;
                        /** @default 07:30 */
                        quietUntil?: string;
                    } | null;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: number;
                        secret: string;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    getWebhook: {
        parameters: {
            query?: {
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Webhook"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    removeWebhook: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
                /** @description The ETag of what you read: 412 where it has changed since. */
                "If-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": Record<string, never>;
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    changeWebhook: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
                /** @description The ETag of what you read: 412 where it has changed since. */
                "If-Match"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "kinds": [
                 *         "reply.received",
                 *         "meeting.booked"
                 *       ]
                 *     }
                 */
                "application/json": {
                    name?: string;
                    url?: string;
                    kinds?: ("journey.started" | "journey.stopped" | "journey.finished" | "email.sent" | "email.opened" | "email.clicked" | "email.bounced" | "page.visited" | "film.watched" | "file.opened" | "file.saved" | "reply.received" | "reply.labelled" | "prospect.opted_out" | "prospect.added" | "prospect.stage_changed" | "meeting.booked" | "meeting.moved" | "meeting.cancelled" | "meeting.held" | "meeting.missed" | "mailbox.rests")[];
                    filter?: string;
                    /** @enum {string} */
                    state?: "on" | "off";
                    channel?: {
                        words: string;
                        /** @default 20:00 */
                        quietFrom?: string;
                        /** @default 07:30 */
                        quietUntil?: string;
                    } | null;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Webhook"];
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    rotateSecret: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        secret: string;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    testWebhook: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": Record<string, never>;
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    replayWebhook: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "since": "2026-06-01T00:00:00Z"
                 *     }
                 */
                "application/json": {
                    /** Format: date-time */
                    since: string;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        again: number;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    listRules: {
        parameters: {
            query?: {
                /** @description How many at once, at most 100. */
                limit?: number;
                /** @description “next” of the answer before; without it, the beginning. */
                cursor?: string;
                /** @description By id: the oldest first, or the newest. */
                order?: "asc" | "desc";
                /** @description Only these fields of each, with commas between. */
                fields?: string;
            };
            header?: {
                /** @description The ETag of what you have: 304 where it is still the same. */
                "If-None-Match"?: string;
            };
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    ETag?: string;
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        data: components["schemas"]["Rule"][];
                        /** @description The cursor of what follows; null at the end. */
                        next: string | null;
                    };
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
    callRule: {
        parameters: {
            query?: never;
            header?: {
                /** @description The same request with the same key is carried out once; kept for a day. */
                "Idempotency-Key"?: string;
            };
            path: {
                /**
                 * @description Its id.
                 * @example 1
                 */
                id: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                /**
                 * @example {
                 *       "prospectId": 1
                 *     }
                 */
                "application/json": {
                    prospectId: number;
                };
            };
        };
        responses: {
            /** @description Done. */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": Record<string, never>;
                };
            };
            /** @description It could not be done; the problem says why. */
            default: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/problem+json": components["schemas"]["Problem"];
                };
            };
        };
    };
}
