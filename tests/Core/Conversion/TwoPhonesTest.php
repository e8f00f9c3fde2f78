<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Conversion;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Conversion\Converted;
use Geschenk\Core\Conversion\Scope;
use Geschenk\Core\Conversion\Trial;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Merge\Held;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * Two phones of one account, used side by side with clocks that are seconds apart: merged, written and read back, all
 * four ways. Nothing of either is lost or doubled, each keeps its order, and in parts it comes to the same as at once.
 */
#[Group('search')]
final class TwoPhonesTest extends TestCase
{
    use Scratch;

    private const NOW = 1_795_192_800_000;
    private const ROOMS = 3;
    private const PEOPLE = ['+447700900002', '+447700900003', '+12025550100'];

    private int $run = 0;

    /** @return iterable<string, array{string, string}> */
    public static function ways(): iterable
    {
        foreach (['android', 'ios'] as $from) {
            foreach (['android', 'ios'] as $to) {
                yield "$from to $to" => [$from, $to];
            }
        }
    }

    #[DataProvider('ways')]
    public function testNothingIsLostOrDoubledAndEachKeepsItsOrder(string $from, string $to): void
    {
        $pairs = (int) (getenv('GESCHENK_SEEDS') ?: 50);
        for ($seed = 0; $seed < $pairs; ++$seed) {
            $where = "$from to $to, seed $seed";
            [$gives, $receives] = $this->phones($seed, $from, $to);
            $held = new Held($receives, self::noFiles());
            [$once, $converted] = $this->convert($gives, $to, $held);
            self::assertTrue($converted->totals->complete(), $where);
            self::assertSame([], array_filter(
                $converted->merge->conflicts ?? [], static fn (array $c): bool => 'order' === $c['aspect'],
            ), $where);
            $there = self::inOrder($once);
            foreach ([self::inOrder($gives), self::inOrder($receives)] as $side => $rooms) {
                foreach ($rooms as $key => $own) {
                    self::assertSame(
                        $own, array_values(array_intersect($there[$key], $own)), "$where: order of side $side in $key",
                    );
                }
            }
            foreach ($there as $key => $all) {
                self::assertSame(array_values(array_unique($all)), $all, "$where: twice in $key");
            }

            $chance = new Randomizer(new Mt19937($seed));
            match ($seed % 3) {
                0 => $this->inParts($gives, $to, $held, $once, $chance, $where),
                1 => $this->onceMore($gives, $to, $once, $where),
                default => $this->afterALoss($gives, $to, $held, $once, $chance, $where),
            };
        }
    }

    /** A part first, then the rest on top of it: what carries no time is as at once, too. */
    private function inParts(
        ChatStore $gives,
        string $to,
        Held $held,
        ChatStore $once,
        Randomizer $chance,
        string $where,
    ): void {
        $trial = 0 === $chance->getInt(0, 1)
            ? Trial::ofNewest($chance->getInt(1, 6))
            : Trial::ofConversation(self::key($chance->getInt(0, self::ROOMS - 1)));
        [$part] = $this->convert($gives, $to, $held, new Scope(trial: $trial));
        [$whole, $rest] = $this->convert($gives, $to, new Held($part, self::noFiles(), true, $held));
        self::assertTrue($rest->totals->complete(), $where);
        self::assertSame(self::all($once), self::all($whole), "$where: in two parts");
    }

    private function onceMore(ChatStore $gives, string $to, ChatStore $once, string $where): void
    {
        [$again, $twice] = $this->convert($gives, $to, new Held($once, self::noFiles()));
        self::assertSame(0, $twice->merge?->brought, $where);
        self::assertSame(self::all($once), self::all($again), "$where: once more");
    }

    /** What the phone had and has lost since comes from what was kept of it. */
    private function afterALoss(
        ChatStore $gives,
        string $to,
        Held $held,
        ChatStore $once,
        Randomizer $chance,
        string $where,
    ): void {
        $lost = new Held($this->with($once, $to, $chance), self::noFiles(), true, $held);
        [$mended] = $this->convert($gives, $to, $lost);
        self::assertSame(self::all($once), self::all($mended), "$where: after a loss");
    }

    /** @return array{ChatStore, Converted} what is on the phone then, as its own reader reads it */
    private function convert(ChatStore $gives, string $to, Held $there, Scope $scope = new Scope()): array
    {
        $here = Folder::make($this->path('c'.++$this->run));
        $conversion = new Conversion(
            new Formats(), new ReadingHere(), $gives, self::noFiles(), $here, Platform::from($to), $there,
        );
        $converted = $conversion->run(self::NOW, [], new NoProgress(), $scope);
        $store = new StoreWriter($here.'/found.sqlite');
        $data = $here.'/'.Conversion::DATA;
        Chats::format($to)->reader()->read($data, new FolderFiles($data), $store, new NoProgress());
        $store->finish();
        Folder::remove($data);

        return [new ChatStore($here.'/found.sqlite'), $converted];
    }

    /** The same phone with some messages gone, and with its settings lost. */
    private function with(ChatStore $chats, string $platform, Randomizer $chance): ChatStore
    {
        return Chats::store(
            $this->path('lost'.++$this->run.'.sqlite'),
            static function (StoreWriter $w) use ($chats, $chance): void {
                foreach ($chats->people() as $person) {
                    $w->person($person);
                }
                foreach ($chats->conversations() as $stored) {
                    $id = $w->conversation($stored->conversation->with(['archived' => false, 'mutedUntil' => null]));
                    foreach ($chats->messages($stored->id) as $message) {
                        if (0 !== $chance->getInt(0, 3)) {
                            $w->message($id, $message->message);
                        }
                    }
                }
            },
            $platform,
        );
    }

    /** @return array{ChatStore, ChatStore} */
    private function phones(int $seed, string $from, string $to): array
    {
        $chance = new Randomizer(new Mt19937($seed));
        $shared = [];
        for ($room = 0; $room < self::ROOMS; ++$room) {
            $at = self::NOW - 900_000_000 + $room;
            for ($n = 0, $count = $chance->getInt(0, 14); $n < $count; ++$n) {
                $at += 1_000 * $chance->getInt(0, 3);
                $shared[$room][] = self::said($chance, "r$room-$n", $at);
            }
        }
        $make = fn (string $name, string $platform, int $skew): ChatStore => Chats::store(
            $this->path("$seed-$from-$to-$name.sqlite"),
            static function (StoreWriter $w) use ($chance, $shared, $name, $skew): void {
                foreach (self::PEOPLE as $key) {
                    $w->person(new Person(
                        $key, $key, 0 === $chance->getInt(0, 2) ? null : $name." calls $key", null,
                        0 === $chance->getInt(0, 3), 0 === $chance->getInt(0, 2) ? ["+4420790000$name"] : [],
                    ));
                }
                for ($room = 0; $room < self::ROOMS; ++$room) {
                    if (0 === $chance->getInt(0, 6)) {
                        continue;
                    }
                    $id = $w->conversation(self::room($room, $name, $chance));
                    foreach (self::asOn($name, $skew, $shared[$room] ?? [], $chance) as $message) {
                        $w->message($id, $message);
                    }
                }
            },
            $platform,
        );

        return [
            $make('1', $from, 1_000 * $chance->getInt(-900, 900)), $make('2', $to, 1_000 * $chance->getInt(-900, 900)),
        ];
    }

    /**
     * @param list<Message> $shared
     * @param int           $skew   ms by which the clock of this phone is wrong
     *
     * @return list<Message> what one phone has of what both might have, with its own in between
     */
    private static function asOn(string $name, int $skew, array $shared, Randomizer $chance): array
    {
        $messages = [];
        $at = self::NOW - 900_000_000;
        for ($n = 0; $n <= count($shared); ++$n) {
            for ($own = 0, $count = max(0, $chance->getInt(-2, 2)); $own < $count; ++$own) {
                $messages[] = self::said($chance, "only-$name-$n-$own-".count($shared), $at + $skew, true);
            }
            if (isset($shared[$n]) && 0 !== $chance->getInt(0, 3)) {
                $at = $shared[$n]->sentAt;
                $messages[] = 0 === $chance->getInt(0, 4) ? $shared[$n]->with(['starred' => true]) : $shared[$n];
            }
        }

        return $messages;
    }

    private static function said(Randomizer $chance, string $text, int $at, bool $mayBeOwn = false): Message
    {
        $isOwn = $mayBeOwn && 0 === $chance->getInt(0, 1);

        return Chats::text($text, $at, 0 === $chance->getInt(0, 5) ? null : 'W'.$text)->with([
            'senderKey' => $isOwn ? null : self::PEOPLE[$chance->getInt(0, 2)], 'fromOwner' => $isOwn,
        ]);
    }

    private static function room(int $room, string $name, Randomizer $chance): Conversation
    {
        $members = array_map(
            static fn (string $key): Member => new Member($key, MemberRole::Member, null, null),
            array_slice(self::PEOPLE, 0, $chance->getInt(1, 3)),
        );

        return new Conversation(
            self::key($room), ConversationKind::Group, 0 === $chance->getInt(0, 2) ? null : "Room $room on $name", null,
            null, 0 === $chance->getInt(0, 2), null,
            0 === $chance->getInt(0, 2) ? Conversation::MUTED_FOR_GOOD : null, 0,
            null, $members, draft: 0 === $chance->getInt(0, 2) ? "begun on $name" : null,
        );
    }

    private static function key(int $room): string
    {
        return "raft.$room";
    }

    private static function noFiles(): FolderFiles
    {
        return new FolderFiles(sys_get_temp_dir().'/none');
    }

    /** @return array<string, list<string>> texts in their order, by conversation */
    private static function inOrder(ChatStore $chats): array
    {
        $all = [];
        foreach ($chats->conversations() as $stored) {
            $all[$stored->conversation->key] = [];
            foreach ($chats->messages($stored->id) as $message) {
                $all[$stored->conversation->key][] = (string) $message->message->text;
            }
        }

        return $all;
    }

    /** @return array<string, mixed> all that is compared */
    private static function all(ChatStore $chats): array
    {
        $all = [];
        foreach ($chats->conversations() as $stored) {
            $messages = [];
            foreach ($chats->messages($stored->id) as $message) {
                $messages[] = serialize(MessageRow::values($message->message));
            }
            $c = $stored->conversation;
            $all[$c->key] = [serialize([$c->settings(), $c->members]), $messages];
        }
        foreach ($chats->people() as $person) {
            $all['person '.$person->key] = serialize($person);
        }
        ksort($all);

        return $all;
    }
}
