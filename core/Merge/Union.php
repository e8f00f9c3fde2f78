<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\StoredConversation;
use Geschenk\Core\Store\StoreEditor;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;

/**
 * Unites what is brought with what the receiving phone holds, by conversation and by the identity of a message. What
 * both have comes once (Pairing), in its later state (Settling), and stands where both had it (Placing). Whoever unites
 * the outcome with one of the two again gets the same. docs/formats/merging.md says it so that somebody else can write
 * it, and is held against this.
 *
 * Nearly all is done by SQL over both stores; only messages whose states differ are taken into hand.
 */
final class Union
{
    /** Names, among loss rules, why a message of the backup arrives in another state than it had. */
    public const RULE = 'merged';
    private const WRITTEN = Pairing::WRITTEN;

    private Database $database;
    private StoreWriter $writer;
    private Pairing $pairing;
    private Placing $placing;
    private bool $isThereNewer;
    /** @var array{brought: int, there: int, both: int} of conversations */
    private array $conversations = ['brought' => 0, 'there' => 0, 'both' => 0];
    private int $settings = 0;
    private int $settled = 0;
    /** @var array<string, array<string, int>> messages by aspect and way */
    private array $conflicts = [];
    /** @var array<string, array<string, int>> conversations, people and the like by aspect and way */
    private array $around = [];
    /** Where the pins of the phone that was used last end. */
    private int $lastPin = 0;

    /**
     * @param ChatStore $brought what is meant to arrive of a backup
     * @param ChatStore $there   what the receiving phone holds, as its own format holds it
     * @param bool      $isRepair whether what is brought counts wherever no time tells: what is there came of it, and
     *                            is not as it was meant to be
     */
    public function __construct(
        private readonly ChatStore $brought,
        private readonly ChatStore $there,
        private readonly bool $isRepair = false,
    ) {
    }

    /**
     * @param string $path where the united chats go, as a chat store; messages that only the phone has are Fate::Kept
     *
     * @throws UnusableInput when the two are not of one account
     */
    public function build(string $path, Progress $progress): MergeReport
    {
        $this->ensureOneAccount();
        $progress->phase('merging', $this->brought->messageCount() + $this->there->messageCount());
        $this->writer = new StoreWriter($path);
        $this->database = $this->writer->bulk();
        $horizon = $this->writer->horizon;
        $this->isThereNewer = !$this->isRepair && ($this->there->newestUpTo($horizon) ?? \PHP_INT_MIN)
            >= ($this->brought->newestUpTo($horizon) ?? \PHP_INT_MIN);
        $this->frame();
        $this->database->execute('COMMIT');
        $this->brought->attachTo($this->database, 'b');
        $this->there->attachTo($this->database, 't');
        $this->database->execute('BEGIN');
        $this->pairing = new Pairing($this->database);
        $this->placing = new Placing($this->database, $horizon);
        $this->pins();
        foreach ($this->brought->conversations() as $stored) {
            $other = $this->there->conversation($stored->conversation->key);
            $this->conversation($stored, $other);
            $progress->advance($this->brought->messageCount($stored->id));
        }
        foreach ($this->there->conversations() as $stored) {
            if (null === $this->brought->conversation($stored->conversation->key)) {
                $this->conversation(null, $stored);
            }
            $progress->advance($this->there->messageCount($stored->id));
        }
        $this->rows();
        $this->settle();
        $report = $this->report();
        $this->pairing->done();
        $this->placing->done();
        $this->database->execute('COMMIT');
        $this->database->detach('b');
        $this->database->detach('t');
        $this->database->execute('BEGIN');
        $this->writer->finish();

        return $report;
    }

    private function ensureOneAccount(): void
    {
        [$brought, $there] = [$this->brought->source(), $this->there->source()];
        // Nothing is inferred from what can't be read.
        if ('' === $there->account && '' !== $brought->account) {
            throw UnusableInput::accountUnreadable();
        }
        if ([$brought->messenger, $brought->account] !== [$there->messenger, $there->account]) {
            throw UnusableInput::anotherAccount($brought->account, $there->account);
        }
        if ($brought->edition !== $there->edition) {
            throw UnusableInput::anotherEdition($brought->edition, $there->edition);
        }
    }

    /** All that belongs to no conversation. */
    private function frame(): void
    {
        $this->writer->source($this->brought->source()->named($this->pick(
            $this->brought->source()->accountName, $this->there->source()->accountName,
        )));
        $moment = $this->brought->judgedAt();
        if (null !== $moment) {
            $this->writer->judgedAt($moment);
        }
        $there = [];
        foreach ($this->there->people() as $person) {
            $there['p'.$person->key] = $person;
        }
        foreach ($this->brought->people() as $person) {
            $other = $there['p'.$person->key] ?? null;
            unset($there['p'.$person->key]);
            $this->writer->person(null === $other ? $person : $this->person($person, $other));
        }
        foreach ($there as $person) {
            $this->writer->person($person);
        }
        [$older, $newer] = $this->byAge($this->brought, $this->there);
        foreach (SettlingAround::labels($older->labels(), $newer->labels()) as $label) {
            $this->writer->label($label);
        }
        $answers = SettlingAround::cannedAnswers($older->cannedAnswers(), $newer->cannedAnswers());
        foreach ($answers as $answer) {
            $this->writer->cannedAnswer($answer);
        }
        $this->note('canned_answer', 'both', SettlingAround::sharedShortcuts(
            $older->cannedAnswers(), $newer->cannedAnswers(),
        ));
        foreach ([MergeReport::BROUGHT => $this->brought, MergeReport::THERE => $this->there] as $side => $chats) {
            foreach ($chats->contentKeys() as $path => $key) {
                $this->writer->contentKey(UnitedFiles::path($side, $path), $key);
            }
        }
        foreach ($this->brought->findings() as $finding) {
            if (!str_starts_with($finding['code'], 'time_')) {
                $this->writer->finding(
                    $finding['code'], $finding['subject'], $finding['example'], $finding['count'],
                );
            }
        }
    }

    private function person(Person $brought, Person $there): Person
    {
        [$older, $newer] = $this->byAge($brought, $there);

        foreach (SettlingAround::differencesOfPeople($older, $newer) as $aspect => $way) {
            $this->note($aspect, $way);
        }

        return SettlingAround::person($older, $newer);
    }

    /**
     * @template T
     *
     * @param T $brought
     * @param T $there
     *
     * @return array{T, T} the one of the phone that was used last is the second
     */
    private function byAge(mixed $brought, mixed $there): array
    {
        return $this->isThereNewer ? [$brought, $there] : [$there, $brought];
    }

    private function pick(?string $brought, ?string $there): ?string
    {
        return $this->isThereNewer ? $there ?? $brought : $brought ?? $there;
    }

    /** Pins of conversations that only the phone used earlier has come behind those of the one used last. */
    private function pins(): void
    {
        foreach ($this->byAge($this->brought, $this->there)[1]->conversations() as $stored) {
            if ($stored->fate->isWritten()) {
                $this->lastPin = max($this->lastPin, $stored->conversation->pinPlace ?? 0);
            }
        }
    }

    private function conversation(?StoredConversation $brought, ?StoredConversation $there): void
    {
        $isBrought = null !== $brought && $brought->fate->isWritten();
        $isThere = null !== $there && $there->fate->isWritten();
        [$first, $count] = null === $brought ? [0, 0] : $this->brought->range($brought->id);
        [$firstThere, $countThere] = null === $there || !$isThere ? [0, 0] : $this->there->range($there->id);
        if (null === $brought && !$isThere) {
            return;
        }
        $inBrought = sprintf('x.message_id >= %d AND x.message_id < %d', $first, $first + $count);
        $inThere = sprintf('y.message_id >= %d AND y.message_id < %d', $firstThere, $firstThere + $countThere);
        null !== $brought && $countThere > 0 && $count > 0
            ? $this->pairing->pair($brought->id, $inBrought, $inThere)
            : $this->pairing->nothing();
        [$conversation, $fate, $rules] = $this->around(
            $isBrought || !$isThere ? $brought : null, $isThere ? $there : null,
        );
        ++$this->conversations[$isBrought ? ($isThere ? 'both' : 'brought') : ($isThere ? 'there' : 'brought')];
        $onlyThere = 0 === $countThere ? 0 : $this->database->one(
            "SELECT COUNT(*) AS n FROM t.message y WHERE $inThere AND y.".self::WRITTEN
                .' AND NOT EXISTS (SELECT 1 FROM temp.pair p WHERE p.there_id = y.message_id)',
        )?->int('n') ?? 0;
        $id = $this->writer->conversationAt($conversation, $this->placing->next(), $count + $onlyThere, $fate, $rules);
        $paired = 0 === $count || 0 === $countThere ? 0 : $this->database->one(
            "SELECT COUNT(*) AS n FROM b.message x WHERE $inBrought AND EXISTS (SELECT 1 FROM temp.pair p "
                .'WHERE p.brought_id = x.message_id)',
        )?->int('n') ?? 0;
        $written = 0 === $paired ? -1 : $this->database->one(
            "SELECT COUNT(*) AS n FROM b.message x WHERE $inBrought AND x.".self::WRITTEN,
        )?->int('n') ?? 0;
        $this->placing->place(
            new Meeting($id, $inBrought, $inThere, $count, $onlyThere, $paired === $written),
        );
        // What can't be read of the phone is another sum, in the report.
        $lost = null === $brought ? 0 : $this->database->one(
            'SELECT lost FROM b.conversation WHERE conversation_id = ?', [$brought->id],
        )?->int('lost') ?? 0;
        if ($lost > 0) {
            $this->writer->lost($id, $lost);
        }
    }

    /** When somebody last said something in it, on that phone; ms since 1970 UTC. */
    private function lastOf(StoredConversation $stored): ?int
    {
        [$first, $count] = ($this->isThereNewer ? $this->there : $this->brought)->range($stored->id);

        return $this->database->one(sprintf(
            'SELECT MAX(sent_at) AS last FROM %s.message WHERE message_id >= %d AND message_id < %d AND sent_at <= %d',
            $this->isThereNewer ? 't' : 'b', $first, $first + $count, $this->writer->horizon,
        ))?->nullableInt('last');
    }

    private function note(string $aspect, string $way, int $count = 1): void
    {
        if ($count > 0) {
            $this->around[$aspect][$way] = ($this->around[$aspect][$way] ?? 0) + $count;
        }
    }

    /** @return array{Conversation, Fate, list<string>} */
    private function around(?StoredConversation $brought, ?StoredConversation $there): array
    {
        $ofNewer = $this->isThereNewer ? $there : $brought;
        if (null !== $brought && null !== $there) {
            [$older, $newer] = $this->byAge($brought->conversation, $there->conversation);
            $united = SettlingAround::conversation($older, $newer, $this->lastOf($this->byAge($brought, $there)[1]));
            foreach (SettlingAround::differences($older, $newer, $united) as $aspect => $way) {
                $this->note($aspect, $way);
            }
            $isOther = static fn (Conversation $c): bool => serialize([$c->settings(), $c->members, $c->opaque])
                !== serialize([$united->settings(), $united->members, $united->opaque]);
            $this->settings += $isOther($brought->conversation) || $isOther($there->conversation) ? 1 : 0;
            if (!$isOther($brought->conversation)) {
                return [$united, $brought->fate, $brought->rules];
            }

            return [
                $united, Fate::Whole === $brought->fate ? Fate::Changed : $brought->fate,
                [...$brought->rules, self::RULE],
            ];
        }
        $only = $brought ?? $there ?? throw new \LogicException('A conversation of nobody.');
        $conversation = $only->conversation;
        if (null === $ofNewer && null !== $conversation->pinPlace && $this->lastPin > 0
            && $only->fate->isWritten()) {
            $conversation = $conversation->with(['pinPlace' => $this->lastPin + $conversation->pinPlace]);
        }
        if (null !== $there) {
            return [$conversation, Fate::Kept, []];
        }
        $isMoved = $conversation !== $only->conversation;

        return [
            $conversation, $isMoved && Fate::Whole === $only->fate ? Fate::Changed : $only->fate,
            $isMoved ? [...$only->rules, self::RULE] : $only->rules,
        ];
    }

    /** The rows themselves, in the order of their new ids. */
    private function rows(): void
    {
        $columns = 'identity, '.implode(', ', MessageRow::COLUMNS);
        $of = static fn (string $alias): string => implode(
            ', ', array_map(static fn (string $c): string => "$alias.$c", ['identity', ...MessageRow::COLUMNS]),
        );
        $this->database->execute(<<<SQL
            INSERT INTO main.message (message_id, conversation_id, place, $columns, fate, rules, origin)
                SELECT o.message_id, o.conversation_id, o.place, {$of('x')}, x.fate, x.rules, x.origin
                FROM temp.place o CROSS JOIN b.message x ON x.message_id = o.id WHERE o.side = 0
                UNION ALL
                SELECT o.message_id, o.conversation_id, o.place, {$of('y')}, 'kept', NULL, NULL
                FROM temp.place o CROSS JOIN t.message y ON y.message_id = o.id WHERE o.side = 1
                ORDER BY 1;
            SQL);
        $attachment = Selection::columns(StoreSchema::TABLES['attachment']);
        $rest = implode(', ', array_map(static fn (string $c): string => 'a.'.$c, array_slice($attachment, 3)));
        $names = implode(', ', array_slice($attachment, 1));
        foreach ([['b', 0, MergeReport::BROUGHT], ['t', 1, MergeReport::THERE]] as [$schema, $number, $side]) {
            $this->database->execute(<<<SQL
                INSERT INTO main.attachment ($names)
                SELECT o.message_id, '$side/' || a.path, $rest
                FROM temp.place o CROSS JOIN $schema.message m ON m.message_id = o.id
                    CROSS JOIN $schema.attachment a ON a.message_id = m.message_id
                WHERE o.side = $number AND m.attachments IS NOT NULL
                ORDER BY o.message_id, a.attachment_id;
                SQL);
        }
        $origin = 'SELECT 1 AS here FROM main.message WHERE origin IS NOT NULL LIMIT 1';
        if (null !== $this->database->one($origin)) {
            $this->database->execute(<<<'SQL'
                CREATE INDEX temp.place_id ON place (side, id);
                UPDATE main.message SET origin = (SELECT o.message_id FROM temp.place o
                    WHERE o.side = 0 AND o.id = message.origin) WHERE origin IS NOT NULL;
                SQL);
        }
    }

    /** Messages of both sides whose states differ. */
    private function settle(): void
    {
        $isOther = implode(' OR ', array_map(
            static fn (string $c): string => "x.$c IS NOT y.$c", MessageRow::COLUMNS,
        ));
        // Collected first: the walk and the changes must not meet.
        $this->database->execute(<<<SQL
            CREATE TEMP TABLE differing AS
                SELECT p.brought_id, p.there_id FROM temp.pair p JOIN t.message y ON y.message_id = p.there_id
                    JOIN b.message x ON x.message_id = p.brought_id
                WHERE $isOther;
            CREATE TEMP TABLE new_place AS SELECT d.brought_id, d.there_id, o.message_id
                FROM temp.differing d JOIN temp.place o ON o.side = 0 AND o.id = d.brought_id;
            DROP TABLE temp.differing;
            SQL);
        $editor = new StoreEditor($this->database);
        $pairs = 'SELECT brought_id, there_id, message_id FROM temp.new_place ORDER BY message_id';
        foreach ($this->database->lists($pairs) as $pair) {
            /** @var array{int, int, int} $pair */
            $this->settleOne($editor, ...$pair);
        }
        $this->database->execute('DROP TABLE temp.new_place');
    }

    private function settleOne(StoreEditor $editor, int $broughtId, int $thereId, int $id): void
    {
        $stored = $this->brought->message($broughtId) ?? throw new \LogicException('A message vanished.');
        $brought = self::below(MergeReport::BROUGHT, $stored->message);
        $other = $this->there->message($thereId) ?? throw new \LogicException('A message vanished.');
        $there = self::below(MergeReport::THERE, $other->message);
        [$older, $newer] = $this->byAge($brought, $there);
        foreach (Settling::differences($older, $newer) as $aspect => $way) {
            $this->conflicts[$aspect][$way] = ($this->conflicts[$aspect][$way] ?? 0) + 1;
        }
        ++$this->settled;
        $united = Settling::message($older, $newer);
        if (MessageRow::attachments($united->attachments) === MessageRow::attachments($brought->attachments)) {
            $united = $united->with(['attachments' => $brought->attachments]);
        }
        if (MessageRow::values($united) === MessageRow::values($brought)) {
            return;
        }
        $editor->message($id, $brought, $united);
        $this->database->run(
            "UPDATE main.message SET fate = CASE fate WHEN 'whole' THEN 'changed' ELSE fate END, rules = CASE "
                ."WHEN fate IN ('added', 'kept') THEN rules WHEN rules IS NULL THEN json_array(?) "
                .'ELSE json_insert(rules, '
                ."'$[#]', ?) END WHERE message_id = ?",
            [self::RULE, self::RULE, $id],
        );
    }

    private static function below(string $side, Message $message): Message
    {
        return [] === $message->attachments ? $message : $message->with(['attachments' => array_map(
            static fn (Attachment $a): Attachment => $a->movedTo(UnitedFiles::path($side, $a->path)),
            $message->attachments,
        )]);
    }

    private function report(): MergeReport
    {
        $count = fn (string $sql): int => $this->database->one($sql)?->nullableInt('n') ?? 0;
        $both = $count('SELECT COUNT(*) AS n FROM temp.pair');
        if ($this->pairing->twice() > 0) {
            $this->conflicts['no_id'] = ['both_stay' => $this->pairing->twice()];
        }
        if ($this->placing->contradictions() > 0) {
            $this->conflicts['order'] = ['as_brought' => $this->placing->contradictions()];
        }
        // Moments are odd on many phones, and come along as they are.
        $findings = array_values(array_filter(
            $this->there->findings(),
            static fn (array $finding): bool => !str_starts_with($finding['code'], 'time_'),
        ));

        return new MergeReport(
            $count('SELECT COUNT(*) AS n FROM b.message WHERE '.self::WRITTEN) - $both,
            $count('SELECT COUNT(*) AS n FROM t.message WHERE '.self::WRITTEN) - $both, $both, $this->settled,
            $count('SELECT COUNT(*) AS n FROM t.message WHERE NOT ('.self::WRITTEN.')'),
            $this->conversations['brought'], $this->conversations['there'], $this->conversations['both'],
            $this->settings, $this->isThereNewer ? MergeReport::THERE : MergeReport::BROUGHT,
            array_map(
                static fn (array $row): array => ['aspect' => $row[0], 'way' => $row[1], 'messages' => $row[2]],
                self::counted($this->conflicts),
            ),
            array_map(
                static fn (array $row): array => ['aspect' => $row[0], 'way' => $row[1], 'count' => $row[2]],
                self::counted($this->around),
            ),
            $count('SELECT SUM(lost) AS n FROM t.conversation'),
            $this->there->isLossUncounted(),
            array_map(static fn (array $f): array => [
                'code' => $f['code'], 'subject' => $f['subject'], 'count' => $f['count'],
            ], $findings),
        );
    }

    /**
     * @param array<string, array<string, int>> $ways by aspect and way
     *
     * @return list<array{string, string, int}> aspect, way and how often, the most first
     */
    private static function counted(array $ways): array
    {
        $counted = [];
        foreach ($ways as $aspect => $all) {
            foreach ($all as $way => $n) {
                $counted[] = [$aspect, $way, $n];
            }
        }
        usort($counted, static fn (array $a, array $b): int => [$b[2], $a[0], $a[1]] <=> [$a[2], $b[0], $b[1]]);

        return $counted;
    }
}
