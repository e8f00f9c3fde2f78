<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * Whose chats they are, also when they come again years later. Nobody is taken for somebody else by their name: that it
 * is the same person is said at the counter.
 */
#[ORM\Entity]
class Customer
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** @param string $language for the sheet; BCP 47 */
    public function __construct(
        #[ORM\Column(length: 200)] private string $name,
        #[ORM\Column(length: 200)] private string $contact,
        #[ORM\Column(length: 12)] private string $language,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The customer is not stored yet.');
    }

    public function name(): string
    {
        return $this->name;
    }

    public function contact(): string
    {
        return $this->contact;
    }

    public function language(): string
    {
        return $this->language;
    }

    /** @return bool whether anything was written down otherwise */
    public function correct(string $name, string $contact, string $language): bool
    {
        if ([$name, $contact, $language] === [$this->name, $this->contact, $this->language]) {
            return false;
        }
        [$this->name, $this->contact, $this->language] = [$name, $contact, $language];

        return true;
    }
}
