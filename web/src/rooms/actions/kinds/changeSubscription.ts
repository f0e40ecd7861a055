import type { ActionKind } from "../ActionKind";
import { SubscriptionForm } from "../SubscriptionForm";

/** Subscribes or unsubscribes, always or as an answer says. */
export const changeSubscription: ActionKind<"change_subscription"> = {
  words: "Subscribe or unsubscribe",
  make: () => ({
    kind: "change_subscription",
    list: null,
    every_list: false,
    direction: null,
    question: "",
    subscribe_words: ["subscribe", "yes"],
    unsubscribe_words: ["unsubscribe", "stop", "no"],
  }),
  Form: SubscriptionForm,
};
