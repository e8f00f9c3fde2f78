<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Messenger\Capabilities;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoreWriter;

/**
 * What is meant to arrive: the chats of a backup after the loss rules of the receiving format, with each message's
 * fate. It is what the writer is given and what the check compares with, and it never looks at what was written.
 */
final class Expectation
{
    /** @var array<string, array{messages: int, conversations: int, example: string|null}> */
    private array $counts = [];

    /** @param list<LossRule> $rules */
    public function __construct(private readonly Capabilities $target, private readonly array $rules)
    {
    }

    public static function of(Capabilities $target): self
    {
        return new self($target, LossRules::all());
    }

    /**
     * @param string $path where the expected chats go, as a chat store
     *
     * @return list<Loss> only rules that touched something
     */
    public function build(ChatStore $chats, string $path, Progress $progress): array
    {
        $this->counts = [];
        $writer = new StoreWriter($path);
        $progress->phase('planning', $chats->messageCount());
        $writer->source($chats->source());
        foreach ($chats->people() as $person) {
            $writer->person($person);
        }
        foreach ($chats->conversations() as $stored) {
            $conversation = $stored->conversation;
            $touching = [];
            $leftOut = null;
            foreach ($this->rules as $rule) {
                if ($rule->touchesConversation($conversation, $this->target)) {
                    $conversation = $rule->changeConversation($conversation);
                    $touching[$rule->name()] = 0;
                    $leftOut = $rule->leavesOut() ? $rule->name() : $leftOut;
                }
            }
            $fate = null !== $leftOut ? Fate::LeftOut : ([] === $touching ? Fate::Whole : Fate::Changed);
            $id = $writer->conversation($conversation, $fate, array_keys($touching));
            foreach ($chats->messages($stored->id) as $storedMessage) {
                $message = $storedMessage->message;
                $rules = null === $leftOut ? [] : [$leftOut];
                foreach (null === $leftOut ? $this->rules : [] as $rule) {
                    if ($rule->touchesMessage($message, $this->target)) {
                        $message = $rule->changeMessage($message);
                        $rules[] = $rule->name();
                    }
                }
                foreach ($rules as $name) {
                    $touching[$name] = ($touching[$name] ?? 0) + 1;
                }
                $writer->message($id, $message, null !== $leftOut ? Fate::LeftOut : ([] === $rules ? Fate::Whole : Fate::Changed), $rules);
                $progress->advance(1);
            }
            foreach ($touching as $name => $messages) {
                $this->counts[$name] ??= ['messages' => 0, 'conversations' => 0, 'example' => $conversation->key];
                $this->counts[$name]['messages'] += $messages;
                ++$this->counts[$name]['conversations'];
            }
        }
        $writer->finish();

        return $this->losses();
    }

    /** @return list<Loss> */
    private function losses(): array
    {
        $losses = [];
        foreach ($this->rules as $rule) {
            $count = $this->counts[$rule->name()] ?? null;
            if (null !== $count) {
                $losses[] = new Loss($rule->name(), $rule->sentence(), $rule->leavesOut(), $count['messages'], $count['conversations'], $count['example']);
            }
        }

        return $losses;
    }
}
