<?php

declare(strict_types=1);

namespace Geschenk\App\Contacts;

use Geschenk\Core\Chat\Person;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Messenger\ReadingLimits;

/** The process that reads an address book: gets its order as the first line, writes cards, tells how many. */
final readonly class BookProcess
{
    /**
     * @param resource $orders
     * @param resource $answers
     */
    public function __construct(private mixed $orders, private mixed $answers)
    {
    }

    /** @return int exit code */
    public function run(): int
    {
        $order = json_decode((string) fgets($this->orders), true, 4);
        if (!is_array($order) || !is_string($order['folder'] ?? null) || !is_string($order['own_number'] ?? null)) {
            throw new \RuntimeException('Whoever asked for the reading is gone.');
        }
        ReadingLimits::of(is_array($order['limits'] ?? null) ? $order['limits'] : [])->impose();
        $book = new AddressBook(Disk::contents($order['folder'].'/'.BookApart::BOOK), $order['own_number']);
        $people = Disk::open($order['folder'].'/'.BookApart::PEOPLE, 'r');
        while (false !== ($line = fgets($people))) {
            $told = json_decode($line, true, 4);
            $book->add(self::person(is_array($told) ? $told : []));
        }
        Disk::put($order['folder'].'/'.BookApart::ADDED, $book->added());
        fwrite($this->answers, json_encode($book->counts(), \JSON_THROW_ON_ERROR));

        return 0;
    }

    /** @param array<array-key, mixed> $told */
    private static function person(array $told): Person
    {
        $text = static fn (int $n): ?string => is_string($told[$n] ?? null) ? $told[$n] : null;
        $others = is_array($told[3] ?? null) ? array_values(array_filter($told[3], is_string(...))) : [];

        return new Person('', $text(0), $text(1), $text(2), otherNumbers: $others);
    }
}
