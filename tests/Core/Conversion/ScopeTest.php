<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Conversion;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Conversion\FileGroup;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Conversion\Scope;
use Geschenk\Core\Conversion\ScopeSum;
use Geschenk\Core\Conversion\Trial;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** What is left out on purpose stays in the backup, is counted under its choice, and all the rest arrives. */
final class ScopeTest extends TestCase
{
    use Scratch;
    use TestTrait;

    private const JUNE = 1_780_272_000_000;

    private int $run = 0;

    public function testEachChoiceIsCountedUnderItsNameAndWordsAlwaysCome(): void
    {
        $chats = $this->chats();
        $scope = new Scope([FileGroup::Videos], ['left'], self::JUNE);
        $losses = [];
        foreach (Expectation::of(Chats::format('ios')->capabilities(), null, [], $scope)->build(
            $chats, $this->path('e.sqlite'), new NoProgress(),
        ) as $loss) {
            $losses[$loss->rule] = $loss;
        }
        $counts = array_map(static fn (Loss $loss): array => [$loss->messages, $loss->conversations], $losses);
        self::assertSame([
            'chosen_conversation' => [1, 1], 'chosen_date' => [2, 2], 'chosen_group' => [1, 1], 'chosen_file' => [1, 1],
        ], $counts);
        $expected = new ChatStore($this->path('e.sqlite'));
        self::assertSame(Fate::LeftOut, $expected->conversation('old')?->fate, 'It would have arrived empty.');
        self::assertSame(Fate::Whole, $expected->conversation('empty')?->fate);
        $fates = [];
        foreach ($expected->messages((int) $expected->conversation('k')?->id) as $stored) {
            $fates[$stored->message->wireId ?? ''] = [$stored->fate->value, $stored->rules];
            if ('said' === $stored->message->wireId) {
                self::assertSame('look at that', $stored->message->text);
                self::assertSame(Presence::Missing, $stored->message->attachments[0]->presence);
                self::assertSame(7_000, $stored->message->attachments[0]->bytes, 'The phone may say how large it was.');
            }
        }
        self::assertSame([
            'before' => ['left_out', ['chosen_date']], 'film' => ['left_out', ['chosen_group']],
            'said' => ['changed', ['chosen_file']], 'text' => ['whole', []], 'photo' => ['whole', []],
        ], $fates);
    }

    public function testTheSumSaysWhatTheChoiceBringsBeforeAnythingIsPlanned(): void
    {
        $this->chats();
        $chats = new ChatStore($this->path('x.sqlite'));
        $all = ScopeSum::of($chats, new Scope());
        self::assertSame([7, 0, 17_300, 0], [$all->messages, $all->leftOut, $all->bytes, $all->withoutFile]);
        self::assertSame(['messages' => 2, 'bytes' => 17_000], $all->groups['videos']);
        $some = ScopeSum::of($chats, new Scope([FileGroup::Videos], ['left'], self::JUNE));
        self::assertSame([3, 4, 300, 1], [$some->messages, $some->leftOut, $some->bytes, $some->withoutFile]);
        self::assertSame(['messages' => 2, 'bytes' => 17_000], $some->groups['videos'], 'What there would be of them.');
        self::assertSame(
            [3, 0], array_column($some->conversations, 'messages'), 'The full one, and the one that is empty anyway.',
        );
    }

    #[DataProvider('platforms')]
    public function testWhateverIsChosenTheSumsAddUpAndTheRestArrives(string $platform): void
    {
        $this->limitTo(40)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed) use ($platform): void {
            $this->path('x');
            $here = $this->path((string) ++$this->run);
            mkdir($here);
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', $platform);
            $scope = self::randomScope($seed, $chats);
            $sum = ScopeSum::of($chats, $scope);
            Expectation::of(Chats::format($platform)->capabilities(), 1_795_192_800_000, [], $scope)->build(
                $chats, $here.'/e.sqlite', new NoProgress(),
            );
            $expected = new ChatStore($here.'/e.sqlite');
            self::assertSame($expected->writtenCount(), $sum->messages, "seed $seed");
            $found = Chats::through(
                $expected, $here.'/files', Chats::format($platform), $here.'/out', $here.'/y.sqlite',
            );
            $totals = (new Comparison($expected, $found))->run($here.'/result.sqlite', new NoProgress())->totals();
            self::assertTrue($totals->complete(), "seed $seed: ".json_encode($totals));
            self::assertSame(
                [$chats->messageCount(), $sum->leftOut], [$totals->messages, $totals->leftOut], "seed $seed",
            );
            self::assertSame(self::bytes($chats, $expected, $scope), $sum->bytes, "seed $seed: bytes");
        });
    }

    /** @return list<array{string}> */
    public static function platforms(): array
    {
        return [['android'], ['ios']];
    }

    public function testAChoiceIsToldAndReadBackTheSame(): void
    {
        $scope = new Scope([FileGroup::Voice, FileGroup::Photos], ["b\xFF", 'a'], 1, 2);
        self::assertSame($scope->toArray(), Scope::of($scope->toArray())->toArray());
        foreach ([Trial::ofNewest(3), Trial::ofConversation("b\xFF")] as $trial) {
            $part = new Scope(since: 1, trial: $trial);
            self::assertEquals($part, Scope::of($part->toArray()));
            self::assertFalse((new Scope(trial: $trial))->isAll());
            self::assertEquals(new Scope(since: 1), $part->withoutTrial());
        }
        self::assertTrue(Scope::of(null)->isAll());
        self::assertFalse($scope->isAll());
    }

    /** Bytes of the files that come, added up one by one. */
    private static function bytes(ChatStore $chats, ChatStore $expected, Scope $scope): int
    {
        $bytes = 0;
        foreach ($chats->conversations() as $stored) {
            $fates = [];
            foreach ($expected->messages($stored->id) as $message) {
                $fates[] = $message->fate;
            }
            foreach ($chats->messages($stored->id) as $n => $message) {
                $isLeft = [] !== array_filter(
                    $scope->groups,
                    static fn (FileGroup $g): bool => in_array($message->message->kind, $g->kinds(), true),
                );
                foreach ($fates[$n]->isWritten() && !$isLeft ? $message->message->attachments : [] as $attachment) {
                    $bytes += $attachment->presence->hasBytes() ? $attachment->bytes : 0;
                }
            }
        }

        return $bytes;
    }

    private static function randomScope(int $seed, ChatStore $chats): Scope
    {
        $chance = new Randomizer(new Mt19937($seed));
        $keys = [];
        $key = 'none';
        foreach ($chats->conversations() as $stored) {
            $key = $stored->conversation->key;
            if (0 === $chance->getInt(0, 2)) {
                $keys[] = $stored->conversation->key;
            }
        }

        return new Scope(
            array_values(array_filter(FileGroup::cases(), static fn (): bool => 0 === $chance->getInt(0, 2))), $keys,
            0 === $chance->getInt(0, 2) ? $chance->getInt(0, 1_500_000_000_000) : null,
            0 === $chance->getInt(0, 2) ? $chance->getInt(1_500_000_000_000, 4_200_000_000_000) : null,
            match ($chance->getInt(0, 4)) {
                0 => Trial::ofNewest($chance->getInt(1, 4)),
                1 => Trial::ofConversation($key),
                default => null,
            },
        );
    }

    private function chats(): ChatStore
    {
        $file = static fn (int $bytes): Attachment => new Attachment(
            "f$bytes", null, 'video/mp4', $bytes, str_repeat('a', 64), Presence::Present,
        );
        $film = static fn (string $id, ?string $text, int $bytes, Kind $kind = Kind::Video): Message => new Message(
            $id, null, true, $kind, $text, self::JUNE, null, DeliveryState::Read, attachments: [$file($bytes)],
        );

        return Chats::store($this->path('x.sqlite'), static function (StoreWriter $w) use ($film): void {
            $k = $w->conversation(Chats::direct('k'));
            $w->message($k, Chats::text('x', self::JUNE - 1, 'before'));
            $w->message($k, $film('film', null, 10_000));
            $w->message($k, $film('said', 'look at that', 7_000));
            $w->message($k, Chats::text('y', self::JUNE, 'text'));
            $w->message($k, $film('photo', null, 300, Kind::Photo));
            $w->message($w->conversation(Chats::direct('left')), Chats::text('z', self::JUNE, 'l'));
            $w->message($w->conversation(Chats::direct('old')), Chats::text('z', self::JUNE - 5, 'o'));
            $w->conversation(Chats::direct('empty'));
        });
    }
}
