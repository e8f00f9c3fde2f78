<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Customer\Customers;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Import;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\ImportGoesOn;
use Geschenk\App\Http\Body\NewImport;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\View\ImportView;
use Geschenk\App\Work\Import\ImportKind;
use Geschenk\App\Work\Import\PartMeant;
use Geschenk\App\Work\Import\ToImport;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\Core\Import\Found;
use Geschenk\Core\Import\Importers;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Stick\Stick;
use Geschenk\Core\Stick\Sticks;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Chats that lay elsewhere, and become a backup that the shop keeps. */
#[Route('/api/imports')]
final readonly class ImportController
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private Sticks $sticks,
        private Importers $importers,
        private Customers $customers,
        private KeepingDesk $desk,
        private ImportKind $kind,
        private ToImport $toImport,
        private ImportView $view,
    ) {
    }

    #[Route('', methods: ['GET'])]
    public function show(): JsonResponse
    {
        return new JsonAnswer($this->all());
    }

    /** What on a stick could be imported. */
    #[Route('/sticks/{stick}', methods: ['GET'])]
    public function look(string $stick): JsonResponse
    {
        $there = $this->sticks->find($stick);
        if (true !== $there?->isThere()) {
            throw new NotFoundHttpException('no_such_stick');
        }
        ['found' => $found, 'whole' => $isWhole] = $this->importers->in($there->folder());

        return new JsonAnswer([
            'found' => array_map(static fn (Found $one): array => [
                'path' => $one->path, 'sort' => $one->sort, 'bytes' => $one->bytes,
                'changed_at' => Time::ofSeconds($one->changedAt), 'is_locked' => BackupLock::Open !== $one->lock,
                'lock' => $one->lock?->value,
            ], $found),
            'is_whole' => $isWhole,
        ]);
    }

    #[Route('', methods: ['POST'])]
    public function ask(
        #[MapRequestPayload('json')] #[\SensitiveParameter] NewImport $asked,
        #[CurrentUser] User $user,
    ): JsonResponse {
        if ((null === $asked->stick) === (null === $asked->upload)) {
            throw Refusal::because('nothing_to_import');
        }
        $by = $user->getUserIdentifier();
        $wish = null === $asked->upload
            ? $this->toImport->onStick((string) $asked->stick, $asked->path)
            : $this->toImport->sent($asked->upload, $by);
        // As it was typed: a password may end with a space.
        $key = null === $asked->key || '' === trim($asked->key) ? null : $asked->key;
        $this->records->change(fn () => $this->desk->askOfCustomer(
            $this->customer($asked, $user), $this->kind, $by, new Asked(key: $key, own: $wish),
        ));

        return new JsonAnswer($this->all(), 202);
    }

    /** Has one go on, rest or end; what opens it can be told anew, and which of several things in it is meant. */
    #[Route('/{import}/{act<go-on|pause|cancel>}', methods: ['POST'])]
    public function act(
        string $import,
        string $act,
        #[CurrentUser] User $user,
        #[MapRequestPayload('json')] #[\SensitiveParameter] ?ImportGoesOn $told = null,
    ): JsonResponse {
        $of = $this->entities->find(Import::class, $import) ?? throw new NotFoundHttpException('no_such_import');
        $key = null === $told?->key || '' === trim($told->key) ? null : $told->key;
        $this->desk->act(
            $of->customer->id(), $import, RunAct::from(strtr($act, '-', '_')), $user->getUserIdentifier(),
            new Asked(key: $key, own: null === $told?->part ? null : new PartMeant($told->part)),
        );

        return new JsonAnswer($this->all(), 202);
    }

    /** In the caller's transaction. */
    private function customer(NewImport $asked, User $user): Customer
    {
        $told = [trim($asked->customer), trim($asked->contact), $asked->language ?? $user->language()];
        if (null === $asked->known) {
            $customer = new Customer(...$told);
            $this->entities->persist($customer);
            $this->entities->flush();

            return $customer;
        }
        $customer = $this->customers->get($asked->known);
        $customer->correct(...$told);

        return $customer;
    }

    /** @return array<string, mixed> */
    private function all(): array
    {
        return [
            'imports' => $this->view->newest(),
            'sticks' => array_map(static fn (Stick $stick): array => [
                'id' => $stick->id(), 'label' => $stick->label(),
            ], $this->sticks->there()),
        ];
    }
}
