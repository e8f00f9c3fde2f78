<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\Contents;
use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class MessageRowTest extends TestCase
{
    use Scratch;
    use TestTrait;

    private int $run = 0;

    public function testAMessageIsItsColumns(): void
    {
        $this->limitTo(40)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed): void {
            $path = $this->path('r'.++$this->run.'.sqlite');
            $chats = Chats::random($seed, $path, $this->path('files'), null);
            foreach ($chats->conversations() as $conversation) {
                foreach ($chats->messages($conversation->id) as $stored) {
                    $values = MessageRow::values($stored->message);
                    self::assertSame(
                        $values, MessageRow::values(MessageRow::message($values, $stored->message->attachments)),
                        "seed $seed",
                    );
                    self::assertCount(count(MessageRow::COLUMNS), $values);
                }
            }
        });
    }

    public function testTheOrderOfReactionsAndReceiptsMakesNoDifference(): void
    {
        $reactions = [new Reaction('b', '👍', 5), new Reaction(null, '❤️', null), new Reaction('a', '👍', 5)];
        $receipts = [new Receipt('b', 1, null, null), new Receipt('a', 1, 2, 3)];
        $one = Chats::text('x')->with(['reactions' => $reactions, 'receipts' => $receipts]);
        $other = Chats::text('x')->with(
            ['reactions' => array_reverse($reactions), 'receipts' => array_reverse($receipts)],
        );
        self::assertSame(MessageRow::values($one), MessageRow::values($other));
        self::assertNotSame(
            MessageRow::values($one), MessageRow::values(Chats::text('x')->with(['reactions' => $reactions])),
        );
    }

    public function testAttachmentsThatNobodyCouldHaveAreTheSameOnBothSides(): void
    {
        $with = static fn (Presence $presence, int $bytes = 5): string => MessageRow::attachments(
            [new Attachment('p/'.$presence->value, 'name', 'image/jpeg', $bytes, null, $presence)],
        );
        self::assertSame($with(Presence::Missing), $with(Presence::Refused));
        self::assertNotSame($with(Presence::Missing), $with(Presence::Missing, 9), 'the size that the row claims');
        self::assertSame($with(Presence::Missing), $with(Presence::Unreadable));
        self::assertNotSame($with(Presence::Missing), $with(Presence::Empty, 0));
        self::assertSame($with(Presence::Present), $with(Presence::WrongType));
    }

    /** @return iterable<string, array{Content}> */
    public static function contents(): iterable
    {
        foreach ([
            new Place(1 / 3, -0.0, null, "a\0", 5), new ContactCards([['name' => null, 'vcard' => "\xFF"]]), new Poll(
                true, null, [['text' => '', 'votes' => [['who' => null, 'at' => 5], ['who' => 'p', 'at' => null]]]],
            ),
            new Call(
                false, CallOutcome::Declined, null,
            ), new LinkPreview('', null, 'x'), new CatalogueItem('', '', -5, null), new Deletion('p', null),
        ] as $content) {
            yield $content->sort() => [$content];
        }
    }

    #[DataProvider('contents')]
    public function testContentsComeBack(Content $content): void
    {
        self::assertEquals($content, Contents::of($content->sort(), $content->toArray()));
        $chats = Chats::store(
            $this->path('x.sqlite'),
            static fn (StoreWriter $w) => $w->message(
                $w->conversation(Chats::direct()), Chats::text('x')->with(['content' => $content]),
            ),
        );
        self::assertEquals($content, $chats->message(1)?->message->content);
    }

    public function testAStoreWhoseRowsWereTamperedWithIsSaidAndDoesNotCrash(): void
    {
        Chats::store(
            $this->path('x.sqlite'),
            static fn (StoreWriter $w) => $w->message($w->conversation(Chats::direct()), Chats::text('x')),
        )->close();
        foreach ([
            "kind = 'song'", "sent_at = 'noon'", "details = '{\"content\":{\"sort\":\"song\"}}'",
            "details = '{\"mentions\":[[1]]}'", "reactions = '[[1,2]]'", 'from_owner = NULL',
        ] as $change) {
            copy($this->path('x.sqlite'), $this->path('y.sqlite'));
            $database = new \SQLite3($this->path('y.sqlite'));
            if (!@$database->exec('UPDATE message SET '.$change)) {
                continue;
            }
            $database->close();
            $chats = new ChatStore($this->path('y.sqlite'));
            try {
                $chats->message(1);
                self::fail($change);
            } catch (\RuntimeException $error) {
                self::assertStringContainsString('damaged', $error->getMessage(), $change);
            }
            $chats->close();
        }
    }
}
