<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Move;
use Geschenk\Core\Files\Durable\Folder;

/** People's names go into the receiving phone's address book where somebody wants it, beside those that are there. */
final class NamesTest extends ApiTestCase
{
    private const THERE = "BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Somebody Else\r\nTEL:+12025550199\r\nEND:VCARD\r\n";

    public function testNamesComeWhereTheyAreWantedAndWhatWasThereStays(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        file_put_contents($this->book(), self::THERE);
        $picture = Folder::make(dirname($this->book()).'/pictures').'/somebody.jpg';
        file_put_contents($picture, 'a picture');
        $this->bring($n);
        self::assertSame(self::THERE, file_get_contents($this->book()), 'Nobody is brought unasked.');

        $this->bringAgain($n);
        $book = (string) file_get_contents($this->book());
        self::assertStringStartsWith(self::THERE, $book);
        $named = $this->call('GET', "/api/trays/$n/moves/1/scope")['named'];
        self::assertGreaterThan(3, $named);
        self::assertLessThanOrEqual($named, substr_count($book, 'BEGIN:VCARD') - 1);
        self::assertGreaterThan(3, substr_count($book, 'BEGIN:VCARD'));
        self::assertCount(1, $this->steps($n, 'names_brought'));
        self::assertSame('a picture', @file_get_contents($picture), 'What else lies there stays, too.');
        $brought = substr_count($book, 'BEGIN:VCARD') - 1;
        $this->bringAgain($n);
        self::assertSame($book, file_get_contents($this->book()), 'Twice, nothing is there twice.');
        $move = $this->storedMove();
        self::assertSame($brought, $move->bringing()->namesBrought()['brought'] ?? null);
        // Whoever is interrupted behind the swap finds everybody there, and has brought them all the same.
        $put = ['brought' => 3, 'there' => 1, 'nameless' => 0, 'unreadable' => 0];
        $all = ['brought' => 0, 'there' => 4, 'nameless' => 0, 'unreadable' => 0];
        $move->bringing()->bringsNames('one', $put);
        self::assertSame($all, $move->bringing()->broughtNames('another', $all), 'Of another run it says nothing.');
        $move->bringing()->bringsNames('one', $put);
        self::assertSame($put, $move->bringing()->broughtNames('one', $all));
        self::assertSame($all, $move->bringing()->broughtNames('one', $all), 'Once.');
        self::getContainer()->get(EntityManagerInterface::class)->clear();

        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertStringContainsString('address book', (string) $this->browser->getResponse()->getContent());

        // Put back, it holds what it held, to the last byte; and what came in since stays.
        $this->putBack($n);
        self::assertSame(self::THERE, file_get_contents($this->book()));
        $this->bring($n);
        $new = str_replace(['Somebody Else', '0199'], ['Somebody New', '0198'], self::THERE);
        $cards = (array) preg_split('/(?=BEGIN:VCARD)/', $book, flags: \PREG_SPLIT_NO_EMPTY);
        $written = str_replace('FN:', 'FN:The ', $this->text($cards, '1'));
        self::assertNotSame($written, $cards[1]);
        file_put_contents($this->book(), str_replace($this->text($cards, '1'), $written, $book).$new);
        $this->putBack($n);
        self::assertSame(self::THERE.$written.$new, file_get_contents($this->book()));
        $last = $this->steps($n, 'names_taken_out');
        self::assertStringContainsString(
            sprintf('again: %d; 1 stays, because somebody has written in it', $brought - 1),
            (string) json_encode(end($last)),
        );
        self::assertNull($this->storedMove()->bringing()->namesBrought());

        Folder::remove(dirname($this->book()));
        $this->bring($n);
        self::assertCount(1, $this->steps($n, 'names_refused'), 'A phone without an address book is said.');
    }

    private function bringAgain(int $n): void
    {
        $this->putBack($n);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['names' => true]);
        self::assertTrue($this->call('GET', "/api/trays/$n/moves/1/scope")['names']);
        $this->bring($n);
    }

    private function putBack(int $n): void
    {
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'), (string) json_encode($this->move($n)));
        $this->look();
    }

    private function storedMove(): Move
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return $entities->getRepository(Move::class)->findAll()[0] ?? throw new \LogicException();
    }

    private function bring(int $n): void
    {
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
    }

    private function book(): string
    {
        return $this->receiving->data('contacts').'/contacts.vcf';
    }

    /** @return list<mixed> */
    private function steps(int $n, string $code): array
    {
        return array_values(array_filter(
            (array) $this->call('GET', "/api/trays/$n")['steps'],
            static fn (mixed $step): bool => is_array($step) && $step['code'] === $code,
        ));
    }
}
