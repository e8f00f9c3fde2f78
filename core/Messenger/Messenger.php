<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** A messenger: the apps that phones have of it, and the editions that its chats may be of. */
final readonly class Messenger
{
    /** @var non-empty-list<App> an app an official edition, the ordinary one first */
    public array $apps;

    /**
     * @param string                $name     what chat stores hold as their messenger
     * @param array<string, string> $editions official edition by the id of its app, the ordinary one first
     * @param list<string>          $business editions that have labels and ready-made answers
     * @param array<string, string> $rebuilds the official edition that the chats of an unofficial one move into
     */
    public function __construct(
        public string $name,
        array $editions,
        array $business = [],
        private array $rebuilds = [],
    ) {
        $apps = [];
        foreach ($editions as $id => $edition) {
            $apps[] = new App($id, $name, $edition, in_array($edition, $business, true));
        }
        $this->apps = [] === $apps ? throw new \LogicException('A messenger has an app.') : $apps;
    }

    public function app(string $id): ?App
    {
        foreach ($this->apps as $app) {
            if ($app->id === $id) {
                return $app;
            }
        }

        return null;
    }

    /** Whether it is one of its editions, an unofficial one included. */
    public function knows(string $edition): bool
    {
        return isset($this->rebuilds[$edition]) || in_array($edition, array_column($this->apps, 'edition'), true);
    }

    /**
     * The official edition that chats move into.
     *
     * @param string $edition    of the chats; for one that nobody knows their content decides
     * @param bool   $ofBusiness whether they have labels or ready-made answers
     */
    public function official(string $edition, bool $ofBusiness = false): string
    {
        if ($this->knows($edition)) {
            return $this->rebuilds[$edition] ?? $edition;
        }
        foreach ($this->apps as $app) {
            if ($app->ofBusiness === $ofBusiness) {
                return $app->edition;
            }
        }

        return $this->apps[0]->edition;
    }
}
