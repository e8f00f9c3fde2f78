<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Customer\Customers;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Http\Body\CustomersToFind;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\View\CustomerView;
use Geschenk\App\Work\Forgetting;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;

/** People who have been at the counter before: who they are and when that was, and nothing of their chats. */
final readonly class CustomerController
{
    public function __construct(
        private Customers $customers,
        private CustomerView $view,
        private Forgetting $forgetting,
        private EntityManagerInterface $entities,
    ) {
    }

    /** What is looked for is a name: it is sent in the body, and so in no log of addresses. */
    #[Route('/api/customers/find', methods: ['POST'])]
    public function find(#[MapRequestPayload('json')] CustomersToFind $asked): JsonResponse
    {
        $found = $this->customers->find($asked->words);

        return new JsonAnswer(['customers' => array_map(static fn (array $one): array => [
            'id' => $one['customer']->id(), 'name' => $one['customer']->name(),
            'contact' => $one['customer']->contact(), 'language' => $one['customer']->language(),
            'trays' => $one['trays'], 'last_tray' => $one['last_tray'],
            'last_at' => null === $one['last_at'] ? null : Time::iso($one['last_at']),
        ], $found)]);
    }

    /** All that the shop knows of one, and nothing that anybody wrote. */
    #[Route('/api/customers/{customer<\d{1,9}>}', methods: ['GET'])]
    public function show(int $customer): JsonResponse
    {
        $found = $this->entities->find(Customer::class, $customer)
            ?? throw new NotFoundHttpException('no_such_customer');
        $when = $this->forgetting->when($found);

        return new JsonAnswer(
            ['forgets_at' => null === $when ? null : Time::iso($when)] + $this->view->of($found),
        );
    }
}
