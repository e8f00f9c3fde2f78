<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Messenger\Capabilities;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoreEditor;

/**
 * What is meant to arrive: the chats of a backup after the loss rules of the receiving format, with each message's
 * fate. It is what the writer is given and what the check compares with, and it never looks at what was written.
 *
 * The store is copied as a file and the rules' conditions are asked of all its messages at once; only what a rule
 * really changes is taken into hand.
 */
final class Expectation
{
    private Database $database;
    private StoreEditor $editor;
    /** @var array<int, array{Conversation, list<string>}> conversations that rules touch as such, and by which */
    private array $touched;
    /**
     * @var array<string, array{
     *     messages: int, conversations: array<int, true>, example: array{string, string|null, int|null}|null,
     * }>
     */
    private array $counts;

    /** @param list<LossRule> $rules */
    public function __construct(private readonly Route $route, private readonly array $rules)
    {
    }

    /**
     * @param int|null              $moment  by which lifetimes are judged, milliseconds since 1970 UTC; null for now
     * @param array<string, string> $choices key of the choice by rule
     *
     * @throws UnknownChoice
     */
    public static function of(
        Capabilities $target,
        ?int $moment = null,
        array $choices = [],
        Scope $scope = new Scope(),
    ): self {
        LossRules::ensureOffered($choices);

        return new self(new Route($target, $moment ?? time() * 1000, $choices, $scope), LossRules::all());
    }

    /**
     * @param string $path where the expected chats go, as a chat store
     *
     * @return list<Loss> only rules that touched something
     */
    public function build(ChatStore $chats, string $path, Progress $progress): array
    {
        $progress->phase('planning', $chats->messageCount());
        $part = $path.'.plan';
        if (file_exists($path)) {
            throw DiskFailure::at('write', $path);
        }
        $chats->copyTo($part);
        $this->touched = $this->counts = [];
        $this->database = Database::create($part);
        $this->editor = new StoreEditor($this->database);
        try {
            $this->database->execute(
                'BEGIN; CREATE TEMP TABLE touched (message_id INTEGER PRIMARY KEY, conversation_id INTEGER NOT NULL, '
                    .'bits INTEGER NOT NULL)',
            );
            $additions = new Additions($this->route);
            foreach ($this->rules as $rule) {
                $this->conversations($chats, $rule, $additions);
            }
            $this->touch();
            foreach ($this->rules as $number => $rule) {
                $this->messages($chats, $number, $rule);
            }
            foreach ($this->touched as $id => [$conversation, $rules]) {
                $this->editor->conversation($id, $conversation, $rules);
            }
            $this->changeMessages($chats);
            $this->account($chats);
            $this->database->execute('DROP TABLE touched; COMMIT');
            $this->database->close();
            if ($additions->any()) {
                $additions->into($part, $path, $progress, $this->route->moment);
                unlink($part);
            } elseif (!rename($part, $path)) {
                throw DiskFailure::at('write', $path);
            }
        } catch (\Throwable $error) {
            @unlink($part);
            throw $error;
        }
        $progress->advance($chats->messageCount());

        return $this->losses();
    }

    /** The edition in which they will be, and the moment that the plan was made by. */
    private function account(ChatStore $chats): void
    {
        $ofBusiness = [] !== $chats->labels() || [] !== $chats->cannedAnswers();
        $this->database->run(
            "UPDATE about SET value = ? WHERE name = 'edition'",
            [$this->route->target->messenger->official($chats->source()->edition, $ofBusiness)],
        );
        $this->database->run("INSERT OR REPLACE INTO about VALUES ('judged_at', ?)", [(string) $this->route->moment]);
    }

    private function conversations(ChatStore $chats, LossRule $rule, Additions $additions): void
    {
        $condition = $rule->conversations($this->route);
        if (null === $condition) {
            return;
        }
        $choice = $this->route->choiceOf($rule);
        $conversations = "SELECT conversation_id, first_message_id, messages FROM conversation c
            WHERE c.fate NOT IN ('left_out', 'spread') AND ($condition)";
        foreach ($this->database->few($conversations) as $row) {
            $id = $row->int('conversation_id');
            [$conversation, $rules] = $this->touched[$id] ?? [$chats->conversationById($id)->conversation, []];
            $fate = match ($choice->outcome) {
                Outcome::Changed => Fate::Changed,
                Outcome::LeftOut, Outcome::Noticed => Fate::LeftOut,
                Outcome::Spread => Fate::Spread,
            };
            $this->database->run('UPDATE conversation SET fate = ? WHERE conversation_id = ?', [$fate->value, $id]);
            $messages = 0;
            if (Fate::Changed !== $fate) {
                $messages = $row->int('messages');
                $this->database->run(
                    'UPDATE message SET fate = ?, rules = json_array(?) WHERE message_id >= ? AND message_id < ?',
                    [
                        $fate->value, $rule->name(), $row->int('first_message_id'),
                        $row->int('first_message_id') + $messages,
                    ],
                );
            }
            $this->touched[$id] = [$rule->changeConversation($conversation, $choice), [...$rules, $rule->name()]];
            match ($choice->outcome) {
                Outcome::Spread => $additions->spread($id),
                Outcome::Noticed => $additions->notice(
                    $conversation, $messages,
                    $this->newest($row->int('first_message_id'), $messages) ?? $conversation->createdAt ?? 1,
                ),
                default => null,
            };
            $this->count($rule, $id, $messages, [$conversation->key, null, null]);
        }
    }

    private function newest(int $first, int $messages): ?int
    {
        return $this->database->one(
            'SELECT MAX(sent_at) AS newest FROM message WHERE message_id >= ? AND message_id < ?',
            [$first, $first + $messages],
        )?->nullableInt('newest');
    }

    /** Asks all rules of all messages in one go; what is touched is kept with a bit a rule. */
    private function touch(): void
    {
        $bits = '0';
        foreach ($this->rules as $n => $rule) {
            $condition = $rule->messages($this->route);
            $bits .= null === $condition ? '' : sprintf(' | CASE WHEN %s THEN %d ELSE 0 END', $condition, 1 << $n);
        }
        $this->database->execute(
            "INSERT INTO touched SELECT * FROM (SELECT message_id, conversation_id, $bits AS bits FROM message m "
                ."WHERE m.fate NOT IN ('left_out', 'spread')) WHERE bits <> 0",
        );
    }

    private function messages(ChatStore $chats, int $number, LossRule $rule): void
    {
        $name = $rule->name();
        $bit = 1 << $number;
        $touched = $this->database->few(
            'SELECT conversation_id, COUNT(*) AS n, MIN(message_id) AS first FROM touched WHERE bits & ? '
                .'GROUP BY conversation_id ORDER BY first',
            [$bit],
        );
        if ([] === $touched) {
            return;
        }
        $fate = Outcome::LeftOut === $this->route->choiceOf($rule)->outcome ? Fate::LeftOut : Fate::Changed;
        foreach ($touched as $row) {
            $id = $row->int('conversation_id');
            $first = $this->database->one(
                'SELECT kind, sent_at FROM message WHERE message_id = ?', [$row->int('first')],
            );
            $this->count($rule, $id, $row->int('n'), [
                $chats->conversationById($id)->conversation->key, $first?->text('kind'), $first?->int('sent_at'),
            ]);
        }
        $this->database->run(
            'UPDATE message SET fate = ?, rules = CASE WHEN rules IS NULL THEN json_array(?) ELSE json_insert(rules, '
                ."'$[#]', ?) END WHERE message_id IN (SELECT message_id FROM touched WHERE bits & ?)",
            [$fate->value, $name, $name, $bit],
        );
        if (Fate::LeftOut === $fate) {
            // What stays behind is nobody else's affair.
            $this->database->run('DELETE FROM touched WHERE bits & ?', [$bit]);
        }
    }

    /** Each message that rules touch is changed by all of them in one go. */
    private function changeMessages(ChatStore $chats): void
    {
        foreach ($this->database->rows('SELECT message_id, bits FROM touched ORDER BY message_id') as $row) {
            $stored = $chats->message($row->int('message_id')) ?? throw new \LogicException(
                'A message vanished while it was planned.',
            );
            $message = $stored->message;
            foreach ($this->rules as $number => $rule) {
                if (0 !== ($row->int('bits') & (1 << $number))) {
                    $message = $rule->changeMessage($message, $this->route->choiceOf($rule));
                }
            }
            if ($message !== $stored->message) {
                $this->editor->message($stored->id, $stored->message, $message);
            }
        }
        $this->editor->finish();
    }

    /** @param array{string, string|null, int|null} $example key of the conversation; kind and time of a message */
    private function count(LossRule $rule, int $conversation, int $messages, array $example): void
    {
        $this->counts[$rule->name()] ??= ['messages' => 0, 'conversations' => [], 'example' => null];
        $this->counts[$rule->name()]['messages'] += $messages;
        $this->counts[$rule->name()]['conversations'][$conversation] = true;
        // A message is a better example than a conversation alone.
        if (null === $this->counts[$rule->name()]['example']
            || (null !== $example[1] && null === $this->counts[$rule->name()]['example'][1])) {
            $this->counts[$rule->name()]['example'] = $example;
        }
    }

    /** @return list<Loss> */
    private function losses(): array
    {
        $losses = [];
        foreach ($this->rules as $rule) {
            $count = $this->counts[$rule->name()] ?? null;
            if (null !== $count) {
                $losses[] = new Loss(
                    $rule->name(), $this->route->choiceOf($rule), $rule->choices(), $count['messages'],
                    count($count['conversations']),
                    $count['example'][0] ?? null, $count['example'][1] ?? null, $count['example'][2] ?? null,
                );
            }
        }

        return $losses;
    }
}
