<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Standin\Demo\OldPouch;
use Geschenk\Standin\Demo\RebuildPouch;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Old generations, the business edition and the rebuild: told by their data, and moved into what there is today. */
final class EditionsTest extends TestCase
{
    use Scratch;

    /** @return iterable<string, array{string, string, int, string, string}> */
    public static function moves(): iterable
    {
        foreach (['android', 'ios'] as $target) {
            yield "generation 4 to $target" => ['old', 'Otterpost', 4, 'Otterpost', $target];
            yield "business edition to $target" => ['counter', 'Otterpost Counter', 7, 'Otterpost Counter', $target];
            yield "rebuild to $target" => ['rebuild', 'OtterPlus', 7, 'Otterpost', $target];
        }
    }

    #[DataProvider('moves')]
    public function testItIsKnownByItsDataAndArrivesWhole(
        string $what,
        string $edition,
        int $generation,
        string $arrivesAs,
        string $target,
    ): void {
        // The folder's name says nothing.
        $folder = $this->folder($what, 'com.example.something-else');
        $source = ChatSource::open($folder, new Formats(), true);
        self::assertSame(
            [$edition, $generation], [$source->chats->source()->edition, $source->chats->source()->generation],
        );
        Expectation::of(
            Chats::format($target)->capabilities(), 1_795_192_800_000,
        )->build($source->chats, $this->path('e.sqlite'), new NoProgress());
        $expected = new ChatStore($this->path('e.sqlite'));
        $back = Chats::through(
            $expected, $folder, Chats::format($target), $this->path('out'), $this->path('back.sqlite'),
        );
        $totals = (new Comparison($expected, $back))->run($this->path('r.sqlite'), new NoProgress())->totals();
        self::assertTrue($totals->complete(), (string) json_encode($totals));
        self::assertSame($arrivesAs, $back->source()->edition);
        self::assertSame('android' === $target ? 7 : 3, $back->source()->generation);
    }

    public function testGenerationFourKnowsSecondsAndNames(): void
    {
        $folder = $this->folder('new', 'data');
        $new = $this->messages($folder);
        OldPouch::make($folder);
        $old = $this->messages($folder);
        self::assertSame(array_keys($new), array_keys($old));
        $kinds = [];
        foreach ($old as $wireId => $message) {
            self::assertSame($new[$wireId]->sentAt, $message->sentAt);
            self::assertSame($new[$wireId]->text, $message->text);
            self::assertSame([], $message->reactions);
            self::assertSame(
                null === $new[$wireId]->receivedAt ? null : intdiv($new[$wireId]->receivedAt, 1000) * 1000,
                $message->receivedAt,
            );
            $kinds[$message->kind->value] = true;
        }
        self::assertArrayHasKey('photo', $kinds);
        $chats = ChatSource::open($folder, new Formats(), false)->chats;
        $named = 0;
        foreach ($chats->people() as $person) {
            $named += null === $person->bookName ? 0 : 1;
        }
        self::assertGreaterThan(0, $named);
    }

    public function testTheRebuildsHiddenRoomsAndKeptWordsAreRead(): void
    {
        $folder = $this->folder('rebuild', 'data');
        $source = ChatSource::open($folder, new Formats(), true);
        $hidden = array_filter($source->chats->overview(), static fn (array $c): bool => $c['hidden']);
        self::assertCount(2, $hidden);
        self::assertSame(4, $source->chats->summary()['messages_by_kind']['unknown'] ?? 0);
        self::assertContains('slip.sort = 501', array_column($source->chats->findings(), 'subject'));
        $tables = array_column(
            array_filter($source->chats->findings(), static fn (array $f): bool => 'unknown_table' === $f['code']),
            'subject',
        );
        self::assertSame(['dress', 'timed_slip'], $tables);
        $losses = Expectation::of(
            Chats::format('android')->capabilities(), null, ['hidden_conversation' => 'left_out'],
        )->build($source->chats, $this->path('e.sqlite'), new NoProgress());
        $byRule = array_column(array_map(static fn ($loss): array => $loss->toArray(), $losses), null, 'rule');
        self::assertSame(2, $byRule['hidden_conversation']['conversations'] ?? 0);
        self::assertSame('left_out', $byRule['hidden_conversation']['outcome'] ?? null);
        self::assertGreaterThan(0, $byRule['kept_although_deleted']['messages'] ?? 0);
        self::assertGreaterThan(0, $byRule['unknown_kind']['messages'] ?? 0);
        foreach ((new ChatStore($this->path('e.sqlite')))->conversations() as $conversation) {
            foreach ((new ChatStore($this->path('e.sqlite')))->messages($conversation->id) as $stored) {
                self::assertTrue(Kind::Deleted !== $stored->message->kind || null === $stored->message->text);
            }
        }
    }

    public function testTheBusinessEditionBringsLabelsAndCannedAnswers(): void
    {
        $folder = $this->folder('counter', 'data');
        $chats = ChatSource::open($folder, new Formats(), true)->chats;
        self::assertNotEmpty($chats->labels());
        self::assertNotEmpty($chats->cannedAnswers());
        self::assertNotEmpty(array_filter($chats->overview(), static fn (array $c): bool => [] !== $c['labels']));
    }

    /** @return array<string, Message> by wire id */
    private function messages(string $folder): array
    {
        $source = ChatSource::open($folder, new Formats(), true);
        $messages = [];
        foreach ($source->chats->conversations() as $conversation) {
            foreach ($source->chats->messages($conversation->id) as $stored) {
                if (null !== $stored->message->wireId) {
                    $messages[$stored->message->wireId] = $stored->message;
                }
            }
        }
        ksort($messages);

        return $messages;
    }

    private function folder(string $what, string $name): string
    {
        $data = Phones::giving(
            $this->path(), [], false, 300, 'counter' === $what ? 'Otterpost Counter' : 'Otterpost',
        )->data('counter' === $what ? 'otterpost.counter' : 'otterpost');
        rename($data, $this->path($name));
        match ($what) {
            'old' => OldPouch::make($this->path($name)),
            'rebuild' => RebuildPouch::make($this->path($name)),
            default => null,
        };

        return $this->path($name);
    }
}
